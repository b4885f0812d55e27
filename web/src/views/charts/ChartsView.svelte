<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, isAway, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { gauges, type Gauge } from '$lib/gauges.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'

  const EXAMPLE = 'US 7; 17,32; 54,4\nUS 11; 20,57; 66,1'
  let text = $state('')
  let name = $state('')
  let lines = $state.raw<Schemas['ChartLine'][]>([])
  let checked = $state.raw<Schemas['CheckedChart'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  const chart = $derived({
    rows: lines,
    home_scale: session.who?.ways?.home_scale ?? 'us',
  } as Schemas['ChartRequest'])

  const draft = new Draft(
    'charts',
    () => ({ text, name }),
    (typed) => ({ text, name } = typed),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  $effect(() => {
    const body = { text }
    const abort = new AbortController()
    const timer = setTimeout(() => void check(body, abort.signal), 120)
    return () => {
      clearTimeout(timer)
      abort.abort()
    }
  })

  async function check(body: { text: string }, signal: AbortSignal) {
    if (!body.text.trim()) {
      checked = null
      mistakes = []
      return
    }
    const read = await ask(api.POST('/api/gauges/chart/read', { body, signal }))
    if (read?.problem) mistakes = read.problem.errors
    if (!read?.data) return
    lines = read.data
    const answer = await ask(api.POST('/api/plan/chart', { body: chart, signal }))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) {
      checked = answer.data
      mistakes = []
    }
  }

  async function open(event: Event) {
    const file = (event.target as HTMLInputElement).files?.[0]
    if (!file) return
    if (file.size > 400_000)
      mistakes = [{ field: 'text', message: 'No chart is that large.', hint: '' }]
    else text = await file.text()
  }

  async function adopt(event: SubmitEvent) {
    event.preventDefault()
    const answer = await outbox.send<Gauge>({
      method: 'POST',
      path: '/api/gauges/chart',
      body: { name, chart },
      says: `the chart ${name}`,
      where: '/charts',
      slot: draft.slot,
    })
    if (answer.problem) mistakes = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      draft.done()
      await gauges.read()
      router.go(`/gauges/${answer.data.id}`)
    }
  }
</script>

<div class="flex items-baseline justify-between">
  <h1 class="text-[30px] leading-tight">Is a printed chart true?</h1>
  <a class="quiet" href="/gauges">all gauges</a>
</div>
<DraftSays {draft} />
<div class="mt-4 grid gap-10 lg:grid-cols-[26rem_1fr]">
  <div>
    <label class="block" for="chart-text"
      >Paste it, one row a line: size, inside diameter, circumference in mm.</label
    >
    <textarea
      id="chart-text"
      bind:value={text}
      rows="14"
      spellcheck="false"
      class="border-ink mt-2 w-full border p-2 text-[17px]"
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
        class={['text-[21px]', checked.bad && 'text-flame-text']}
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
            <span class="text-soft text-[16px]"
              ><Say
                text={`${row.why}${!row.agrees ? `; by its diameter ${row.size_from_diameter}, by its circumference ${row.size_from_circumference}` : ''}`}
              /></span
            >
          </li>
        {/each}
      </ul>
      <form class="mt-4 text-[20px] leading-[1.9]" onsubmit={adopt}>
        Adopt its good rows as <Word
          bind:value={name}
          label="Name of the chart"
          field="name"
          placeholder="a name"
          {mistakes}
        />
        {#if outbox.from('/charts').length}<span class="text-flame-text">It is on its way.</span>
        {:else}<button class="act ml-2 text-[17px] leading-tight">Adopt</button>{/if}
      </form>
    {:else}
      <p class="text-soft max-w-[36rem]">
        Each row is held against itself, since diameter times π is the circumference, and against
        the scale its size is on.
      </p>
    {/if}
  </div>
</div>
