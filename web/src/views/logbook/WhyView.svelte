<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Answer, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { Live } from '$lib/live.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'
  import { setPath, type Data } from '../sheet/order'
  import Why from './Why.svelte'

  const BEGUN = { line: '', reads: '', cut: '', thick: '', sawn: '', felt: '' }
  let words = $state({ ...BEGUN })
  const units = $derived(session.who?.ways?.units ?? 'mm')
  const home = $derived(session.who?.ways?.home_scale ?? 'us')
  interface Asked {
    found: Schemas['Diagnosis'] | null
    summary: string
  }
  const live = new Live<Asked>(160)
  const draft = new Draft(
    'why',
    () => ({ ...words }),
    (typed) => (words = { ...BEGUN, ...typed }),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  $effect(() => {
    const said = { ...words }
    if (!said.line.trim()) return live.clear()
    return live.want((signal) => diagnosed(said, signal))
  })
  const found = $derived(live.answer?.found ?? null)
  const refused = (field: string, message: string, hint: string): Answer<Asked> => ({
    data: null,
    problem: { status: 422, errors: [{ field, message, hint }] },
  })

  /** The order as one line, the size that was read as it is written, then the question itself. */
  async function diagnosed(
    said: typeof BEGUN,
    signal: AbortSignal,
  ): Promise<Answer<Asked> | undefined> {
    const line = { text: said.line, home_scale: home, units, style: 'plain-band' }
    const read = await ask(api.POST('/api/plan/shorthand', { body: line, signal }))
    if (!read?.data) return read
    const slip = read.data.mistakes[0]
    if (slip) return refused('line', slip.message, slip.hint)
    const summary = read.data.summary
    if (!said.reads && !said.cut && !said.felt)
      return { data: { found: null, summary }, problem: null }
    const order: Data = { style: 'plain-band', units }
    for (const [path, value] of Object.entries(read.data.fields)) setPath(order, path, value)
    const body: Data = { order, units }
    if (said.reads) {
      const sized = { text: said.reads, home_scale: home, units }
      const size = await ask(api.POST('/api/plan/size', { body: sized, signal }))
      if (!size?.data)
        return size?.problem
          ? refused(
              'reads',
              size.problem.errors[0]?.message ?? '',
              size.problem.errors[0]?.hint ?? '',
            )
          : undefined
      body.observed = { inside_diameter_mm: `${size.data.inside_diameter_mm} mm` }
    }
    if (said.cut) body.cut_mm = said.cut
    if (said.thick) body.thickness_mm = said.thick
    if (said.sawn) body.passes_made = said.sawn
    if (said.felt) Object.assign(body, { felt_mm: said.felt, wide_complaint: true })
    const answer = await ask(api.POST('/api/logbook/diagnose', { body, signal }))
    if (!answer?.data) return answer
    return { data: { found: answer.data, summary }, problem: null }
  }
  const NAMES: Record<string, string> = {
    cut_mm: 'cut',
    thickness_mm: 'thick',
    passes_made: 'sawn',
    felt_mm: 'felt',
  }
  const mistakes = $derived<Mistake[]>(
    live.mistakes.map((one) => ({
      ...one,
      field: NAMES[one.field] ?? (one.field.startsWith('order') ? 'line' : one.field),
    })),
  )
  const example = $derived(
    units === 'in' ? 'us 5, half-round 0.14x0.06, sterling' : 'us 5, half-round 3.6x1.5, sterling',
  )
</script>

<div class="flex items-baseline justify-between gap-6">
  <h1 class="text-title leading-tight">Why did a ring come out wrong?</h1>
  <a class="quiet" href="/logbook">the logbook</a>
</div>
<DraftSays {draft} />
<p class="mt-3 text-order leading-[1.9]">
  It was to be <Word
    bind:value={words.line}
    label="What was wanted"
    field="line"
    most={400}
    placeholder={example}
    {mistakes}
  />. It measures <Word
    bind:value={words.reads}
    label="What it measures"
    field="reads"
    placeholder="size or inside"
    {mistakes}
  />; it was cut <Word
    bind:value={words.cut}
    label="How long it was cut"
    field="cut"
    placeholder="not known"
    {mistakes}
  />
  {units}, is <Word
    bind:value={words.thick}
    label="Thickness"
    field="thick"
    placeholder="not measured"
    {mistakes}
  />
  {units} thick, was sawn <Word
    bind:value={words.sawn}
    label="Saw passes made"
    field="sawn"
    placeholder="not counted"
    {mistakes}
  /> and is worn <Word
    bind:value={words.felt}
    label="How much larger it is worn"
    field="felt"
    placeholder="no complaint"
    {mistakes}
  />
  {units} round (less than nothing: tight).
</p>
<Mistakes {mistakes} />
{#if live.answer?.summary}
  <p class="text-soft mt-1"><Say text={live.answer.summary} /></p>
{/if}
{#if found}
  <section class={['mt-6', live.stale && 'stale']} aria-label="Diagnosis">
    <Why {found} whose="did it come out" />
  </section>
{:else if !mistakes.length}
  <p class="text-soft mt-6 max-w-[44rem] text-lead">
    Say what was wanted, and what it measures or how it was cut. Whatever else is known narrows it;
    the odds are our judgement, and lean on what this shop has found.
  </p>
{/if}
