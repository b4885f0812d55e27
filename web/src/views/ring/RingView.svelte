<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { api, ask, type Catalogue, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { gauges } from '$lib/gauges.svelte'
  import { keys } from '$lib/keys.svelte'
  import Ledger from '$lib/parts/Ledger.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import TaperDrawing from '$lib/parts/TaperDrawing.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { fromField, toField } from '$lib/text'
  import { trueSize } from '$lib/true-size.svelte'
  import Beside from './Beside.svelte'
  import Blanks from './Blanks.svelte'
  import Drawn from './Drawn.svelte'
  import HowSure from './HowSure.svelte'
  import Keep from './Keep.svelte'
  import Lead from './Lead.svelte'
  import { LivePlan } from './live.svelte'
  import {
    chosenKey,
    first,
    fromJob,
    intoStyle,
    toOrder,
    type StyleSpec,
    type Words,
  } from './order'
  import OtherRules from './OtherRules.svelte'
  import Sentence from './Sentence.svelte'
  import Shorthand from './Shorthand.svelte'
  import StyleFigures from './StyleFigures.svelte'
  import WhatIf from './WhatIf.svelte'

  let { catalogue, jobId }: { catalogue: Catalogue; jobId: number | null } = $props()

  const DRAFT = 'ring-draft'
  const START = 'ring-start'
  const KEPT_GAUGE = 'kept'
  const live = new LivePlan()
  const DEFAULT_WAYS = { home_scale: 'us', units: 'mm', rule: 'centroid' } as Schemas['Ways']
  const ways = $derived(session.who?.ways ?? DEFAULT_WAYS)
  const styleOf = (key: string | undefined) =>
    (catalogue.styles.find((one) => one.key === key) ?? catalogue.styles[0]) as StyleSpec
  let words = $state<Words>(untrack(() => first(ways, styleOf('plain-band'))))
  let job = $state.raw<Job | null>(null)
  let lit = $state('')
  let busy = $state(false)
  let refused = $state.raw<Mistake[]>([])
  let theirs = $state(0)
  let missing = $state(false)
  let at = $state(0)
  let scale = $state(20)
  let shorthand = $state(false)
  let beside = $state(false)
  let true1 = $state(false)

  const style = $derived(styleOf(words.fields.style))
  const kept = $derived(
    (job?.order as { gauge?: Schemas['GaugeRequest'] | null } | undefined)?.gauge ?? null,
  )
  // a kept job stays on the calibration it was planned with until another gauge is chosen
  const gauge = $derived(
    words.gauge === KEPT_GAUGE ? kept : (gauges.byId(words.gauge)?.request ?? null),
  )
  const choices = $derived(
    kept
      ? [{ key: KEPT_GAUGE, title: `the ${kept.name || 'gauge'} as then` }, ...gauges.choices]
      : gauges.choices,
  )
  const around = $derived({ style, catalogue, ways, gauge })
  const order = $derived(toOrder(words, around))
  const mistakes = $derived(
    [...live.mistakes, ...refused].filter(
      (one, i, all) =>
        all.findIndex((m) => m.field === one.field && m.message === one.message) === i,
    ),
  )
  const perMm = $derived(true1 ? trueSize.perMm : undefined)
  const blankAt = $derived(Math.min(at, (live.plan?.blanks.length ?? 1) - 1))

  function setStyle(key: string) {
    words.fields = intoStyle(words.fields, style, styleOf(key))
    at = 0
  }

  /** A field as a drawing or a table sets it; one part of a word of several becomes the one that is given. */
  function setField(field: string, value: string) {
    const unit = ways.units === 'in' && field.endsWith('_mm') ? ' mm' : ''
    words.fields[field] = value + unit
    for (const word of style.words) {
      if (word.parts.some((part) => part.field === field) && word.kind === 'one-of')
        words.fields[chosenKey(word)] = field
      // a word that is asked for only as another stands brings that other with it
      const [on, wanted] = word.when.split('=')
      if (word.field === field && on && wanted) words.fields[on] = wanted
    }
  }

  function said(fields: Record<string, string>) {
    if (fields.style && fields.style !== style.key) setStyle(fields.style)
    const own = styleOf(fields.style ?? style.key)
    for (const [field, value] of Object.entries(fields)) {
      words.fields[field] = value
      for (const word of own.words)
        if (word.kind === 'one-of' && word.parts.some((part) => part.field === field))
          words.fields[chosenKey(word)] = field
    }
    shorthand = false
    document.querySelector<HTMLInputElement>('[aria-label="Finger size"]')?.focus()
  }

  onMount(() => {
    void gauges.read()
    if (jobId) void read(jobId)
    else {
      const draft = sessionStorage.getItem(DRAFT)
      const start = sessionStorage.getItem(START)
      if (draft) words = { ...words, ...(JSON.parse(draft) as Partial<Words>) }
      if (start) {
        const { size, ...rest } = JSON.parse(start) as Partial<Words> & { size?: string }
        words = { ...words, ...rest, fields: { ...words.fields, ...(size ? { size } : {}) } }
      }
      sessionStorage.removeItem(START)
    }
    if (!jobId) document.querySelector<HTMLInputElement>('[aria-label="Finger size"]')?.focus()
    const remove = keys.add([
      { key: '/', says: 'the order in one line', run: () => (shorthand = true) },
      { key: '=', says: 'another stock or rule beside it', run: () => (beside = !beside) },
      { key: '1', says: 'true size on this screen', run: () => (true1 = !true1) },
    ])
    return () => {
      live.stop()
      remove()
    }
  })
  $effect(() => {
    if ((!jobId || job) && gauges.loaded) live.want(order)
    if (!jobId) sessionStorage.setItem(DRAFT, JSON.stringify(words))
  })

  async function read(id: number) {
    const answer = await ask(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: id } } }))
    if (answer?.problem) {
      missing = answer.problem.status === 404
      refused = answer.problem.errors
    } else if (answer) {
      job = answer.data
      const order = answer.data.order as { gauge?: unknown; style?: string }
      words = fromJob(
        answer.data,
        toField(answer.data.due),
        order.gauge ? KEPT_GAUGE : '',
        ways.units,
        styleOf(order.style),
      )
    }
  }

  async function keep() {
    busy = true
    const body = {
      title: words.title.trim() || (live.plan?.title ?? ''),
      customer_name: words.customer,
      customer_id: words.customerId ? Number(words.customerId) : null,
      note: words.note,
      due: fromField(words.day && `${words.day}T${words.hour || '17:00'}`),
      order,
      version: theirs || job?.version || null,
    }
    const call = job
      ? api.PUT('/api/jobs/{job_id}', { params: { path: { job_id: job.id } }, body })
      : api.POST('/api/jobs', { body })
    const answer = await ask(call)
    busy = false
    if (answer?.problem) {
      refused = answer.problem.errors
      theirs = answer.problem.version ?? 0
    } else if (answer) {
      sessionStorage.removeItem(DRAFT)
      router.go(`/job/${answer.data.id}`)
    }
  }
</script>

{#if missing}
  <h1 class="text-3xl">There is no such job in this workshop.</h1>
{:else}
  <h1 class="sr-only">{job ? `Order of job ${job.number}` : 'New ring'}</h1>
  {#if shorthand}
    <Shorthand
      style={style.key}
      homeScale={ways.home_scale}
      onsaid={said}
      onclose={() => (shorthand = false)}
    />
  {/if}
  <div class="top">
    <Sentence
      bind:words
      {style}
      {catalogue}
      gauges={choices}
      {mistakes}
      plan={live.plan}
      onstyle={setStyle}
    />
    {#if live.plan}
      <Lead plan={live.plan} at={blankAt} stale={live.stale} onpick={(i) => (at = i)} />
    {/if}
    <Keep
      bind:words
      suggestion={live.plan?.title ?? ''}
      {job}
      {mistakes}
      {busy}
      {theirs}
      onkeep={keep}
    />
  </div>

  {#if live.plan}
    {@const plan = live.plan}
    {@const blank = plan.blanks[blankAt]}
    <div class="mt-5">
      <Blanks
        {plan}
        at={blankAt}
        stale={live.stale}
        {perMm}
        bind:lit
        bind:scale
        onmove={(field, value) => setField(field, String(value))}
        onpick={(i) => (at = i)}
      />
    </div>
    <WhatIf {plan} stale={live.stale} />
    {#if beside}
      <Beside {words} {around} {order} {catalogue} perMm={scale} onclose={() => (beside = false)} />
    {/if}
    {#if blank}
      <div class="bottom">
        <div>
          <Ledger
            {blank}
            mass={`${blank.mass_g.toFixed(2)} g of ${plan.metal.title}`}
            stale={live.stale}
            bind:lit
          />
          <div class="mt-4">
            <StyleFigures {plan} stale={live.stale} onfit={setField} />
          </div>
        </div>
        <div>
          <Drawn {plan} {blank} ringFirst={style.words.length > 0} {perMm} stale={live.stale} />
        </div>
        <div>
          <TaperDrawing {plan} stale={live.stale} />
          <HowSure {plan} stale={live.stale} />
          <OtherRules {plan} stale={live.stale} />
          <p class="mt-3 flex flex-wrap gap-x-5 text-[15px]">
            <button type="button" class="quiet" onclick={() => (shorthand = true)}
              >say it in one line</button
            >
            <button type="button" class="quiet" onclick={() => (beside = !beside)}
              >{beside ? 'nothing beside it' : 'compare'}</button
            >
            <button
              type="button"
              class="quiet"
              aria-pressed={true1}
              onclick={() => (true1 = !true1)}>{true1 ? 'fit the screen' : 'true size'}</button
            >
          </p>
          {#if true1 && !trueSize.known}
            <p class="text-soft text-[15px]">
              This screen has not been measured: <a class="quiet" href="/true-size"
                >lay a bank card on it</a
              >.
            </p>
          {/if}
        </div>
      </div>
    {/if}
  {:else if mistakes.length}
    <Mistakes {mistakes} />
  {/if}
{/if}

<style>
  .top {
    display: grid;
    gap: 1.5rem 3rem;
    grid-template-columns: 1fr;
  }
  .bottom {
    display: grid;
    gap: 1.5rem 1.5rem;
    margin-top: 1.4rem;
    align-items: start;
  }
  @media (min-width: 1100px) {
    .top {
      grid-template: 'order lead keep' auto 'order says says' 1fr / 444px minmax(0, 1fr) 230px;
      gap: 0.4rem 3rem;
    }
    .top > :global(:first-child) {
      grid-area: order;
    }
    .top > :global(form) {
      grid-area: keep;
    }
    .bottom {
      grid-template-columns: minmax(0, 1fr) 264px 364px;
    }
  }
</style>
