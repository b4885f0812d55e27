<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, isAway, type Answer, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { gauges, type Gauge } from '$lib/gauges.svelte'
  import { Live } from '$lib/live.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'

  const EXAMPLE = 'US 5; 15,69; 49,3\nUS 9; 18,95; 58,1'
  let text = $state('')
  let name = $state('')
  const live = new Live<Checked>(120)
  let refused = $state.raw<Mistake[]>([])
  const checked = $derived(live.answer?.checked ?? null)
  const mistakes = $derived([...live.mistakes, ...refused])
  const units = $derived(session.who?.ways?.units ?? 'mm')

  const draft = new Draft(
    'charts',
    () => ({ text, name }),
    (typed) => ({ text, name } = typed),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  $effect(() => {
    const body = { text }
    refused = []
    if (!text.trim()) return live.clear()
    const ways = { home_scale: session.who?.ways?.home_scale ?? 'us', units }
    return live.want((signal) => check(body, ways, signal))
  })

  interface Checked {
    chart: Schemas['ChartRequest']
    checked: Schemas['CheckedChart']
  }

  /** The rows as they were read, and what each of them says of itself. */
  async function check(
    body: { text: string },
    ways: {
      home_scale: Schemas['ChartRequest']['home_scale']
      units: Schemas['ChartRequest']['units']
    },
    signal: AbortSignal,
  ): Promise<Answer<Checked> | undefined> {
    const read = await ask(api.POST('/api/charts/read', { body, signal }))
    if (!read?.data) return read
    const chart = { rows: read.data.items, ...ways }
    const answer = await ask(api.POST('/api/plan/chart', { body: chart, signal }))
    return answer?.data ? { data: { chart, checked: answer.data }, problem: null } : answer
  }

  async function open(event: Event) {
    const file = (event.target as HTMLInputElement).files?.[0]
    if (!file) return
    if (file.size > 400_000)
      refused = [{ field: 'text', message: 'No chart is that large.', hint: '' }]
    else text = await file.text()
  }

  async function adopt(event: SubmitEvent) {
    event.preventDefault()
    const answer = await outbox.send<Gauge>({
      method: 'POST',
      path: '/api/charts',
      body: { name, chart: live.answer?.chart },
      says: `the chart ${name}`,
      where: '/charts',
      slot: draft.slot,
    })
    if (answer.problem) refused = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      draft.done()
      await gauges.read()
      router.go(`/gauges/${answer.data.id}`)
    }
  }
</script>

<div class="flex items-baseline justify-between">
  <h1 class="text-title leading-tight">Is a printed chart true?</h1>
  <a class="quiet" href="/gauges">all gauges</a>
</div>
<DraftSays {draft} />
<div class="mt-4 grid grid-cols-[minmax(0,1fr)] gap-10 lg:grid-cols-[26rem_minmax(0,1fr)]">
  <div>
    <label class="block" for="chart-text"
      >Paste it, one row a line: size, inside diameter, circumference{units === 'mm'
        ? ' in mm'
        : ', in inches unless its head says mm'}.</label
    >
    <textarea
      id="chart-text"
      bind:value={text}
      rows="14"
      spellcheck="false"
      class="border-ink mt-2 w-full border p-2 text-body"
      placeholder={EXAMPLE}></textarea>
    <label class="mt-2 block"
      >or open a file <input
        type="file"
        accept=".csv,.txt,text/csv,text/plain"
        onchange={open}
        class="file:text-blue max-w-full file:mr-3 file:cursor-pointer file:border-0 file:bg-transparent file:p-0 file:underline file:underline-offset-4"
      /></label
    >
    <Mistakes
      mistakes={mistakes.slice(0, 8).map((m) => ({
        ...m,
        message: m.field.startsWith('row') ? `${m.field}: ${m.message}` : m.message,
      }))}
    />
  </div>
  <div>
    {#if checked}
      <p
        class={['text-lead', checked.bad && 'text-flame-text']}
        aria-live="polite"
        data-testid="chart-says"
      >
        <Say text={checked.says} />
      </p>
      <ul
        class={['border-hairline mt-3 border-t', mistakes.length && 'stale']}
        aria-label="Rows of the chart"
      >
        {#each checked.rows as row, i (i)}
          {@const good = row.agrees && row.on_scale}
          <li class="border-hairline grid grid-cols-[7rem_6rem_1fr] gap-4 border-b py-1">
            <span class="font-medium"><Say text={row.size} /></span>
            <span class={good ? 'text-blue' : 'text-flame-text font-medium'}
              >{good ? 'agrees' : 'cannot be'}</span
            >
            <span class="text-soft text-note"
              ><Say
                text={`${row.why}${!row.agrees ? `; by its diameter ${row.size_from_diameter}, by its circumference ${row.size_from_circumference}` : ''}`}
              /></span
            >
          </li>
        {/each}
      </ul>
      <form class="mt-4 text-lead leading-[1.9]" onsubmit={adopt}>
        Adopt its good rows as <Word
          bind:value={name}
          label="Name of the chart"
          field="name"
          placeholder="a name"
          {mistakes}
        />
        {#if outbox.from('/charts').length}<span class="text-flame-text">It is on its way.</span>
        {:else if session.may('calibrate')}<button
            class="btn btn-primary ml-2 text-body leading-tight">Adopt</button
          >{/if}
      </form>
    {:else}
      <p class="text-soft max-w-[36rem]">
        Each row is held against itself, since diameter times π is the circumference, and against
        the scale its size is on.
      </p>
    {/if}
  </div>
</div>
