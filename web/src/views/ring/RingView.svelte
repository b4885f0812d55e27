<script lang="ts">
  import { onMount, tick, untrack } from 'svelte'

  import { type Catalogue, type Job, type Schemas } from '$lib/api/client'
  import { gauges } from '$lib/gauges.svelte'
  import { keys } from '$lib/keys.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Ledger from '$lib/parts/Ledger.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import TaperDrawing from '$lib/parts/TaperDrawing.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import { session } from '$lib/session.svelte'
  import { toField } from '$lib/text'
  import { trueSize } from '$lib/true-size.svelte'
  import Beside from './Beside.svelte'
  import Blanks from './Blanks.svelte'
  import Drawn from './Drawn.svelte'
  import HowSure from './HowSure.svelte'
  import Keep from './Keep.svelte'
  import { Keeping } from './keeping.svelte'
  import { shown } from './labels'
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

  const START = 'ring-start'
  const KEPT_GAUGE = 'kept'
  const live = new LivePlan()
  const DEFAULT_WAYS = { home_scale: 'us', units: 'mm', rule: 'centroid' } as Schemas['Ways']
  const ways = $derived(session.who?.ways ?? DEFAULT_WAYS)
  const styleOf = (key: string | undefined) =>
    (catalogue.styles.find((one) => one.key === key) ?? catalogue.styles[0]) as StyleSpec
  let words = $state<Words>(untrack(() => first(ways, styleOf('plain-band'))))
  let lit = $state('')
  let at = $state(0)
  let scale = $state(20)
  let shorthand = $state(false)
  let beside = $state(false)
  let true1 = $state(false)

  const style = $derived(styleOf(words.fields.style))
  const keeping = untrack(
    () =>
      new Keeping({
        jobId,
        catalogue,
        words: () => words,
        lay: (laid) => (words = laid),
        read: readJob,
        styleOf,
      }),
  )
  const job = $derived(keeping.job)
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
    [...live.mistakes, ...keeping.refused].filter(
      (one, i, all) =>
        all.findIndex((m) => m.field === one.field && m.message === one.message) === i,
    ),
  )
  const perMm = $derived(true1 ? trueSize.perMm : undefined)
  const blankAt = $derived(Math.min(at, (live.plan?.blanks.length ?? 1) - 1))

  function setStyle(key: string) {
    words = { ...words, ...intoStyle($state.snapshot(words), style, styleOf(key)) }
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
    words.line = ''
    document.querySelector<HTMLInputElement>('[aria-label="Finger size"]')?.focus()
  }

  function toggleBeside() {
    beside = !beside
    if (!beside) words.beside = {}
  }

  function readJob(read: Job): Words {
    const order = read.order as { gauge?: unknown; style?: string }
    const gaugeKey = order.gauge ? KEPT_GAUGE : ''
    return fromJob(read, toField(read.due), gaugeKey, ways.units, styleOf(order.style))
  }

  onMount(() => {
    void gauges.read()
    const start = jobId ? null : sessionStorage.getItem(START)
    sessionStorage.removeItem(START)
    void keeping.begin(start !== null).then(() => {
      if (start) {
        const { size, ...rest } = JSON.parse(start) as Partial<Words> & { size?: string }
        words = { ...words, ...rest, fields: { ...words.fields, ...(size ? { size } : {}) } }
      }
      shorthand = words.line !== ''
      beside = Object.keys(words.beside).length > 0
    })
    if (!jobId) document.querySelector<HTMLInputElement>('[aria-label="Finger size"]')?.focus()
    const remove = keys.add([
      { key: '/', says: 'the order in one line', run: () => (shorthand = true) },
      { key: '=', says: 'another stock or rule beside it', run: toggleBeside },
      { key: '1', says: 'true size on this screen', run: () => (true1 = !true1) },
    ])
    return () => {
      live.stop()
      remove()
    }
  })
  $effect(() => {
    if ((!jobId || job) && gauges.loaded) live.want(order)
  })
  $effect(() => keeping.draft.keep())
  $effect(() => keeping.listen())

  /** While it is under way nothing can be typed that would not be in it; a refusal gives the field back. */
  async function keep() {
    const field = document.activeElement as HTMLElement | null
    await keeping.keep(live.plan?.title ?? '', order)
    await tick()
    if (field?.isConnected) field.focus()
  }
</script>

{#if keeping.missing}
  <h1 class="text-3xl">There is no such job in this workshop.</h1>
{:else}
  <h1 class="sr-only">{job ? `Order of job ${job.number}` : 'New ring'}</h1>
  {#if shorthand}
    <Shorthand
      style={style.key}
      homeScale={ways.home_scale}
      bind:text={words.line}
      onsaid={said}
      onclose={() => {
        shorthand = false
        words.line = ''
      }}
    />
  {/if}
  <DraftSays draft={keeping.draft} />
  <Theirs
    editing={keeping}
    shown={(field, value) => shown(field, value, catalogue)}
    onsave={keep}
  />
  {#if keeping.pending}
    <p class="text-flame-text mb-3 text-[18px]" data-testid="pending">
      This sheet is on its way and arrives by itself.
      <button type="button" class="quiet" onclick={() => keeping.takeBack()}
        >take it back to change it</button
      >
    </p>
  {/if}
  <div inert={keeping.busy || keeping.pending !== undefined}>
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
        busy={keeping.busy}
        ontheirs={keeping.rows !== null}
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
        <Beside
          bind:words
          {around}
          {order}
          {catalogue}
          perMm={scale}
          onclose={() => {
            beside = false
            words.beside = {}
          }}
        />
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
              <button type="button" class="quiet" onclick={toggleBeside}
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
  </div>
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
