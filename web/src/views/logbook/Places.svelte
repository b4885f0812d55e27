<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { api, ask, isAway, type Mistake, type Schemas } from '$lib/api/client'
  import { caliper } from '$lib/caliper.svelte'
  import { clock } from '$lib/clock.svelte'
  import { Draft } from '$lib/draft.svelte'
  import { gauges } from '$lib/gauges.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'
  import { unitBehind, whenWords } from '$lib/text'
  import Round from './Round.svelte'

  let { jobId }: { jobId: number } = $props()
  type Readings = Schemas['Readings']
  let all = $state.raw<Readings | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  const BEGUN = {
    key: 'shank-thickness',
    place: 'bottom',
    state: 'finished',
    text: '',
    note: '',
    gauge: '',
  }
  let words = $state({ ...BEGUN })
  const units = $derived(session.who?.ways?.caliper_units ?? 'mm')
  const job = untrack(() => jobId)
  const where = `/logbook/${job}`
  const draft = new Draft(
    `logbook/${job}/places`,
    () => ({ ...words }),
    (typed) => (words = { ...BEGUN, ...typed }),
  )
  onMount(() => {
    void gauges.read()
    void draft.begin()
    void read()
  })
  $effect(() => draft.keep())
  $effect(() =>
    outbox.listen((item) => {
      if (item.path !== `/api/jobs/${job}/readings`) return false
      void read()
      return true
    }),
  )
  const places = $derived(all?.places[words.key] ?? [])
  const size = $derived(words.key === 'ring-size')
  const back = $derived(words.state === 'came-back')
  $effect(() => {
    if (places.length && !places.some((one) => one.key === words.place))
      words.place = places.find((one) => one.key === 'bottom')?.key ?? places[0]?.key ?? ''
  })

  async function read() {
    const answer = await ask(
      api.GET('/api/jobs/{job_id}/readings', { params: { path: { job_id: job } } }),
    )
    if (answer?.data) all = answer.data
    else if (answer?.problem) mistakes = answer.problem.errors
  }
  async function keep(event: SubmitEvent) {
    event.preventDefault()
    if (!words.text.trim()) return
    if (await send({ ...words })) {
      const at = places.findIndex((one) => one.key === words.place)
      words.text = words.note = ''
      // a caliper goes round: the next place waits for the next reading
      if (!size) words.place = places[(at + 1) % places.length]?.key ?? words.place
      draft.done()
      document.querySelector<HTMLInputElement>('[aria-label="What it reads there"]')?.focus()
    }
  }
  async function send(one: typeof BEGUN): Promise<boolean> {
    const body = {
      key: one.key,
      place: one.place,
      state: one.state,
      text: one.text,
      note: one.note,
      gauge_id: size && one.gauge ? Number(one.gauge) : null,
      typed_in: units,
      zero_mm: size ? 0 : caliper.zero || '0',
    }
    const answer = await outbox.send<Readings>({
      method: 'PUT',
      path: `/api/jobs/${job}/readings`,
      body,
      says: `a reading ${one.text}`,
      where,
      slot: draft.slot,
    })
    if (answer.problem) {
      mistakes = isAway(answer.problem.status) ? [] : answer.problem.errors
      return isAway(answer.problem.status)
    }
    mistakes = []
    all = answer.data
    return true
  }
</script>

<section class="border-hairline mt-6 border-t pt-4" aria-label="Readings at places">
  <h2 class="text-order">Read at places</h2>
  <DraftSays {draft} />
  {#if all}
    <form class="text-lead leading-[1.9]" onsubmit={keep}>
      Its <select class="word" bind:value={words.key} aria-label="What is read">
        {#each all.kinds as one (one.key)}<option value={one.key}>{one.title}</option>{/each}
      </select>
      <select class="word" bind:value={words.place} aria-label="Where">
        {#each places as one (one.key)}<option value={one.key}>{one.title || 'as it is'}</option
          >{/each}
      </select>,
      <select class="word" bind:value={words.state} aria-label="In which state">
        {#each all.states as one (one.key)}<option value={one.key}>{one.title}</option>{/each}
      </select>, is <Word
        bind:value={words.text}
        label="What it reads there"
        field="text"
        most={80}
        placeholder={size ? 'a size' : '0.00'}
        {mistakes}
      />{size ? '' : ` ${unitBehind(words.text, units)}`}{#if size}
        on <select class="word" bind:value={words.gauge} aria-label="On which gauge">
          {#each gauges.choices as choice (choice.key)}<option value={choice.key}
              >{choice.title}</option
            >{/each}
        </select>{/if}{#if back}, because <Word
          bind:value={words.note}
          label="Why it came back"
          field="note"
          most={200}
          placeholder="it no longer fits"
          {mistakes}
        />{/if}
      <button class="btn btn-primary ml-2 text-body leading-tight">Keep it</button>
    </form>
    <Mistakes {mistakes} />
    {#if all.items.length}
      <div class="mt-3 grid gap-x-12 gap-y-4 lg:grid-cols-[minmax(0,1fr)_auto]">
        <ul aria-label="Readings">
          {#each all.items as one (one.key + one.place + one.state)}
            <li class="border-hairline flex flex-wrap gap-x-4 border-b py-1.5">
              <span class="w-44">{one.title} {one.place_title}</span>
              <span class="font-semibold"><Say text={one.text} /></span>
              <span class="text-soft"
                >{one.state_title}{one.note ? `: ${one.note}` : ''}{one.gauge_name
                  ? `, on ${one.gauge_name}`
                  : ''}, {whenWords(one.at, clock.now)}{one.by ? `, ${one.by}` : ''}{one.readings >
                1
                  ? `, read ${one.readings} times`
                  : ''}</span
              >
              <button
                type="button"
                class="quiet ml-auto"
                aria-label={`Take away ${one.title} ${one.place_title}`}
                onclick={() => void send({ ...words, ...one, text: '', gauge: '' })}
                >take away</button
              >
            </li>
          {/each}
        </ul>
        {#if all.symmetry.places.length > 1}<Round symmetry={all.symmetry} />{/if}
      </div>
    {/if}
  {/if}
</section>
