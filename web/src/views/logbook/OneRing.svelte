<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { api, ask, isAway, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { length } from '$lib/length.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'
  import { dayAndHour } from '$lib/text'
  import Places from './Places.svelte'
  import Why from './Why.svelte'

  let { jobId }: { jobId: number } = $props()
  let ring = $state.raw<Schemas['OneRing'] | null>(null)
  let why = $state.raw<Schemas['DiagnosisOut'] | null>(null)
  let missing = $state(false)
  let mistakes = $state.raw<Mistake[]>([])
  let refused = $state.raw<Mistake[]>([])
  let key = $state(untrack(() => decodeURIComponent(router.mark)))
  let cause = $state('')
  let note = $state('')
  const path = { job_id: untrack(() => jobId) }
  const draft = new Draft(
    untrack(() => `logbook/${jobId}`),
    () => ({ cause, note }),
    (typed) => ({ cause, note } = typed),
  )
  onMount(() => {
    void draft.begin()
    void read()
  })
  $effect(() => draft.keep())
  $effect(() =>
    outbox.listen((item) => {
      if (item.where !== `/logbook/${jobId}`) return false
      void read()
      return true
    }),
  )
  const sizes = [
    'size-rounded',
    'size-soldered',
    'size-finished',
    'size-side-a',
    'size-side-b',
    'cut-length',
  ]
  const readable = $derived(ring?.stages.some((one) => asks(one.key)) ?? false)
  const asks = (name: string) => sizes.includes(name.split('@')[0] ?? '')

  /** What came out right is asked about only where somebody asks. */
  const isWrong = (one: Schemas['OneRing']) =>
    one.aside || one.came_back !== '' || ['large', 'small'].includes(one.verdict)

  async function read() {
    const answer = await ask(api.GET('/api/logbook/{job_id}', { params: { path } }))
    if (answer?.problem) {
      missing = answer.problem.status === 404
      mistakes = missing ? [] : answer.problem.errors
    } else if (answer) {
      ring = answer.data
      mistakes = []
      if (readable && (key || isWrong(ring))) await diagnose(key)
    }
  }
  async function diagnose(name: string) {
    key = name
    if (name) router.mark = name
    const answer = await ask(
      api.GET('/api/logbook/{job_id}/why', { params: { path, query: { key: name } } }),
    )
    if (answer?.data) why = answer.data
    else if (answer?.problem && name) await diagnose('')
    else if (answer?.problem) mistakes = answer.problem.errors
  }
  async function keep(keys: string[]) {
    const answer = await outbox.send<Schemas['DiagnosisOut']>({
      method: 'PUT',
      path: `/api/logbook/${jobId}/cause`,
      body: { keys, note: keys.length ? note : '' },
      says: `what it was: ${keys.join(', ')}`,
      where: `/logbook/${jobId}`,
      slot: draft.slot,
    })
    if (answer.problem) refused = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      refused = []
      cause = note = ''
      draft.done()
      await read()
    }
  }
  const kinds = $derived(new Map(ring?.stages.map((one) => [one.key, one.title])))
  const unit = (name: string) => (name.startsWith('mass') ? ' g' : '')
  const told = (name: string, mm: number) => (unit(name) ? mm.toFixed(2) : length(mm)) + unit(name)
  const off = (one: Schemas['StageRead']) => {
    const by = one.read - one.planned
    return Math.abs(by) < 0.005
      ? 'as planned'
      : `${by < 0 ? '−' : '+'}${told(one.key, Math.abs(by))}`
  }
</script>

{#if missing}
  <h1 class="text-title">There is no such ring in this logbook.</h1>
  <p class="mt-3"><a class="quiet" href="/logbook">the logbook</a></p>
{:else if ring}
  <div class="flex flex-wrap items-baseline justify-between gap-x-6">
    <h1 class="text-title leading-tight">
      {ring.customer_name || ring.title}
      <span class="text-soft text-lead">{ring.number}</span>
    </h1>
    <p class="flex gap-5">
      <a class="quiet" href={`/job/${ring.job_id}`}>its card</a>
      <a class="quiet" href="/logbook">the logbook</a>
    </p>
  </div>
  <p class="mt-1 text-lead">
    <Say text={`${ring.what}, ${ring.size_text}`} />{ring.person
      ? `, cut by ${ring.person}`
      : ''}{ring.gauge ? `, read on ${ring.gauge}` : ''}, {dayAndHour(ring.at)}.
  </p>
  <div class="mt-5 grid gap-x-12 gap-y-4 lg:grid-cols-[minmax(0,1fr)_24rem]">
    <div>
      {#if ring.stages.length}
        <table class="table" aria-label="Planned against measured">
          <thead><tr><th></th><th>planned</th><th>measured</th><th>off by</th><th></th></tr></thead>
          <tbody>
            {#each ring.stages as one (one.key)}
              <tr>
                <th scope="row">{one.title}</th>
                <td>{told(one.key, one.planned)}</td>
                <td class="font-semibold">{told(one.key, one.read)}</td>
                <td>{off(one)}</td>
                <td>
                  {#if (asks(one.key) || (readable && one.title === ring.odd)) && off(one) !== 'as planned'}
                    <button
                      type="button"
                      class="quiet"
                      aria-label={`Why: ${one.title}`}
                      aria-pressed={key === one.key}
                      onclick={() => void diagnose(one.key)}>why?</button
                    >
                  {/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      {:else}
        <p class="text-soft text-lead">Nothing was measured on its card.</p>
      {/if}
    </div>
    <div class="text-lead" data-testid="counts">
      {#if ring.counts && ring.z_mm !== null && ring.residual_mm !== null}
        {#if ring.aside}
          <p class="text-flame-text">
            It is set aside: that is too far from the others to be scatter. What was it?
          </p>
        {/if}
        <p>
          {ring.aside ? 'By' : 'It counts: by'} the neutral line alone it is
          <b class="font-semibold"
            >{length(Math.abs(ring.z_mm))} round {ring.z_mm < 0 ? 'small' : 'large'}</b
          >.
        </p>
        {#if ring.in_force_mm}
          <p class="mt-1">
            With the {length(Math.abs(ring.in_force_mm))} that was in force it is
            {length(Math.abs(ring.residual_mm))}.
          </p>
        {/if}
        {#if !ring.passes_known}
          <p class="text-soft mt-1 text-body">
            Nobody looked at its joint: the saw's passes are taken as planned.
          </p>
        {/if}
      {:else}
        <p class="text-soft">It does not count for learning: {ring.why_not}.</p>
      {/if}
      {#if ring.came_back}<p class="text-flame-text mt-1">It came back: {ring.came_back}</p>{/if}
      {#if ring.found_titles.length}
        <p class="mt-1">
          It was: {ring.found_titles.join(' and ')}{ring.found_note ? ` (${ring.found_note})` : ''}.
          <button type="button" class="quiet text-body" onclick={() => void keep([])}
            >that does not hold</button
          >
        </p>
      {/if}
    </div>
  </div>
  <Mistakes {mistakes} />
  {#if why}
    <section class="border-hairline mt-6 border-t pt-4" aria-label="Diagnosis">
      <Why
        found={why.diagnosis}
        whose={key && kinds.get(key) ? `is its ${kinds.get(key)}` : 'did it come out'}
      />
      <DraftSays {draft} />
      <p class="mt-4 text-lead leading-[1.9]">
        What it was in the end: <select class="word" bind:value={cause} aria-label="What it was">
          <option value="">not known yet</option>
          {#each why.causes as one (one.key)}<option value={one.key}>{one.title}</option>{/each}
        </select>, <Word
          bind:value={note}
          label="A word about it"
          field="note"
          most={200}
          placeholder="a word about it"
          mistakes={refused}
        />
        <button
          type="button"
          class="btn btn-primary ml-2 text-body leading-tight"
          disabled={!cause}
          onclick={() => void keep([cause])}>Keep it</button
        >
      </p>
      <Mistakes mistakes={refused} />
    </section>
  {/if}
  <Places {jobId} />
{:else}
  <Mistakes {mistakes} />
{/if}
