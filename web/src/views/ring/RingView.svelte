<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { type Catalogue } from '$lib/api/client'
  import { keys } from '$lib/keys.svelte'
  import FinishGrid from '$lib/parts/FinishGrid.svelte'
  import Ledger from '$lib/parts/Ledger.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import TaperDrawing from '$lib/parts/TaperDrawing.svelte'
  import { trueSize } from '$lib/true-size.svelte'
  import { session } from '$lib/session.svelte'
  import WhenReady from '../day/WhenReady.svelte'
  import Keep from '../sheet/Keep.svelte'
  import KeepingSays from '../sheet/KeepingSays.svelte'
  import { useSheet } from '../sheet/sheet.svelte'
  import Beside from './Beside.svelte'
  import Blanks from './Blanks.svelte'
  import Drawn from './Drawn.svelte'
  import HowSure from './HowSure.svelte'
  import Lead from './Lead.svelte'
  import OtherRules from './OtherRules.svelte'
  import Sentence from './Sentence.svelte'
  import { RingSheet } from './sheet.svelte'
  import { wordsOf } from './order'
  import Shorthand from './Shorthand.svelte'
  import StyleFigures from './StyleFigures.svelte'
  import TwoMetals from './TwoMetals.svelte'
  import { waysOf } from '../sheet/order'
  import Taught from './Taught.svelte'
  import WhatIf from './WhatIf.svelte'
  import WhoseSteps from './WhoseSteps.svelte'

  let { catalogue, jobId }: { catalogue: Catalogue; jobId: number | null } = $props()

  const sheet = untrack(() => new RingSheet(catalogue, jobId))
  const { live, keeping } = sheet
  const job = $derived(sheet.job)
  let true1 = $state(false)
  const perMm = $derived(true1 ? trueSize.perMm : undefined)
  const metalOf = ({ metal }: { metal: string }) =>
    catalogue.metals.find((one) => one.key === metal)?.title ?? sheet.plan?.metal.title ?? ''
  const toSize = () =>
    document.querySelector<HTMLInputElement>('[aria-label="Finger size"]')?.focus()

  useSheet(sheet, () => sheet.begin(), toSize)
  onMount(() =>
    keys.add([
      { key: '/', says: 'the order in one line', run: () => (sheet.shorthand = true) },
      { key: '=', says: 'another stock or rule beside it', run: () => sheet.toggleBeside() },
      { key: '$', says: 'what it costs, in two metals', run: () => (sheet.priced = !sheet.priced) },
      { key: '1', says: 'true size on this screen', run: () => (true1 = !true1) },
    ]),
  )
</script>

{#if keeping.missing}
  <h1 class="text-title">There is no such job in this workshop.</h1>
{:else}
  <h1 class="sr-only">{job ? `Order of job ${job.number}` : 'New ring'}</h1>
  {#if sheet.shorthand}
    <Shorthand
      style={sheet.style.key}
      ways={sheet.ways}
      bind:text={sheet.words.line}
      onsaid={(fields) => {
        sheet.said(fields)
        toSize()
      }}
      onclose={() => {
        sheet.shorthand = false
        sheet.words.line = ''
      }}
    />
  {/if}
  <KeepingSays {keeping} {catalogue} onsave={() => sheet.keep()} />
  <div inert={keeping.busy || keeping.pending !== undefined}>
    <div class="top">
      <Sentence
        bind:words={sheet.words}
        style={sheet.style}
        {catalogue}
        gauges={sheet.choices}
        mistakes={sheet.mistakes}
        plan={sheet.plan}
        onstyle={(key) => sheet.setStyle(key)}
      />
      {#if sheet.plan}
        <Lead
          plan={sheet.plan}
          at={sheet.blankAt}
          stale={live.stale}
          onpick={(i) => (sheet.at = i)}
        />
      {/if}
      <Keep
        bind:words={sheet.words}
        suggestion={sheet.plan?.title ?? ''}
        {job}
        mistakes={sheet.mistakes}
        busy={keeping.busy}
        ontheirs={keeping.rows !== null}
        onfinger={(finger) => sheet.take(finger)}
        onkeep={() => sheet.keep()}
      />
    </div>
    {#if sheet.plan && sheet.begun}
      <WhenReady
        work="make"
        order={sheet.order}
        jobId={sheet.jobId}
        onpromise={(by) => (sheet.words = { ...sheet.words, ...by })}
      />
    {/if}
    <WhoseSteps
      style={sheet.style.key}
      ways={sheet.ways}
      by={sheet.words.fields.steps_by ?? ''}
      mistakes={sheet.mistakes}
      onby={(by) => (sheet.words.fields.steps_by = by)}
    />
    {#if sheet.plan}
      {@const plan = sheet.plan}
      {@const blank = plan.blanks[sheet.blankAt]}
      <div class="mt-5">
        <Blanks
          {plan}
          at={sheet.blankAt}
          stale={live.stale}
          {perMm}
          bind:lit={sheet.lit}
          bind:scale={sheet.scale}
          onmove={(field, value) => sheet.move(field, value)}
          onpick={(i) => (sheet.at = i)}
        />
      </div>
      <Taught {plan} />
      <WhatIf {plan} stale={live.stale} />
      {#if sheet.priced && session.may('estimate')}
        <TwoMetals order={sheet.order} {catalogue} waysOf={waysOf(sheet.words, jobId)} />
      {/if}
      {#if sheet.beside}
        <Beside
          bind:words={sheet.words}
          around={sheet.around}
          order={sheet.order}
          {catalogue}
          perMm={sheet.scale}
          onclose={() => {
            sheet.toggleBeside()
          }}
        />
      {/if}
      {#if blank}
        <div class="bottom">
          <div>
            <Ledger
              {blank}
              mass={`${blank.mass_g.toFixed(2)} g of ${metalOf(blank)}`}
              stale={live.stale}
              bind:lit={sheet.lit}
            />
            <div class="mt-4">
              <StyleFigures
                {plan}
                stale={live.stale}
                onfit={(field, value) => sheet.setField(field, value)}
              />
            </div>
          </div>
          <div>
            <Drawn
              {catalogue}
              {plan}
              {blank}
              ringFirst={wordsOf(sheet.style).own.length > 0}
              {perMm}
              stale={live.stale}
            />
          </div>
          <div>
            <TaperDrawing {plan} stale={live.stale} />
            <div class="mt-3"><FinishGrid route={plan.route} stale={live.stale} /></div>
            <HowSure {plan} stale={live.stale} />
            <OtherRules {plan} stale={live.stale} />
            <p class="mt-3 flex flex-wrap gap-x-5 gap-y-2 text-small">
              <button type="button" class="quiet" onclick={() => (sheet.shorthand = true)}
                >say it in one line</button
              >
              <button
                type="button"
                class="quiet"
                aria-pressed={sheet.priced}
                onclick={() => (sheet.priced = !sheet.priced)}
                >{sheet.priced ? 'no price' : 'what it costs'}</button
              >
              <button type="button" class="quiet" onclick={() => sheet.toggleBeside()}
                >{sheet.beside ? 'nothing beside it' : 'compare'}</button
              >
              <button
                type="button"
                class="quiet"
                aria-pressed={true1}
                onclick={() => (true1 = !true1)}>{true1 ? 'fit the screen' : 'true size'}</button
              >
            </p>
            {#if true1 && !trueSize.known}
              <p class="text-soft text-small">
                This screen has not been measured: <a class="quiet" href="/true-size"
                  >lay a bank card on it</a
                >.
              </p>
            {/if}
          </div>
        </div>
      {/if}
    {:else if sheet.mistakes.length}
      <Mistakes mistakes={sheet.mistakes} />
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
  /* on a wall screen everything is read from further away */
  @media (min-width: 1600px) {
    .top {
      grid-template-columns: 620px minmax(0, 1fr) 340px;
      gap: 0.4rem 5rem;
    }
    .top :global(section > p:first-child) {
      font-size: var(--text-title);
    }
    .top :global(section > p:nth-child(2)),
    .top :global(form p) {
      font-size: var(--text-lead);
    }
    .top :global(.says) {
      font-size: var(--text-order);
    }
    .top :global(.figure) {
      font-size: 224px;
    }
    .bottom {
      grid-template-columns: minmax(0, 1fr) 420px 560px;
      gap: 1.5rem 4rem;
      margin-top: 2.4rem;
    }
  }
</style>
