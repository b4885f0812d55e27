<script lang="ts">
  import { untrack } from 'svelte'

  import { type Catalogue } from '$lib/api/client'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import FinishGrid from '$lib/parts/FinishGrid.svelte'
  import Ledger from '$lib/parts/Ledger.svelte'
  import Say from '$lib/parts/Say.svelte'
  import WhenReady from '../day/WhenReady.svelte'
  import Keep from '../sheet/Keep.svelte'
  import Frame from '../sheet/Frame.svelte'
  import { useSheet } from '../sheet/sheet.svelte'
  import Advice from './Advice.svelte'
  import BeforeAfter from './BeforeAfter.svelte'
  import Fits from './Fits.svelte'
  import Parts from './Parts.svelte'
  import Sentence from './Sentence.svelte'
  import { ResizeSheet } from './sheet.svelte'
  import Ways from './Ways.svelte'

  let { catalogue, jobId }: { catalogue: Catalogue; jobId: number | null } = $props()
  const sheet = untrack(() => new ResizeSheet(catalogue, jobId))
  const { live, keeping } = sheet
  const job = $derived(sheet.job)
  const plan = $derived(sheet.begun ? sheet.plan : null)
  const chosen = $derived(plan?.methods.find((one) => one.key === plan.method))

  useSheet(
    sheet,
    () => keeping.begin(false),
    () => document.querySelector<HTMLInputElement>('[aria-label="Present size"]')?.focus(),
  )
</script>

<Frame {sheet} {catalogue} fresh="A ring to resize" kept="Resizing of job">
  <div class="top">
    <div class="min-w-0">
      <Sentence
        bind:words={sheet.words}
        {catalogue}
        fromGauges={sheet.fromChoices}
        toGauges={sheet.toChoices}
        mistakes={sheet.mistakes}
        {plan}
      />
      <Ways bind:words={sheet.words} {catalogue} mistakes={sheet.mistakes} {plan} {jobId} />
    </div>
    <div class="min-w-0">
      {#if plan}
        <section aria-label="What to do">
          <BigFigure
            figure={plan.lead.figure}
            unit={plan.lead.unit}
            label={plan.lead.title}
            stale={live.stale}
          />
        </section>
        <div
          class={['mt-2 text-lead leading-[1.5]', live.stale && 'stale', 'eased']}
          aria-live="polite"
        >
          {#each plan.says as line, i (i)}<p class={i ? 'text-blue' : ''}>
              <Say text={line} />
            </p>{/each}
        </div>
        {#if plan.override}
          <p class="text-flame-text mt-1 text-body">All the same: {plan.override}</p>
        {/if}
      {:else if !sheet.begun}
        <p class="text-soft mt-3 max-w-[26rem] text-lead">
          Say what it reads and what it should read, and what the shank measures: then it says what
          to do.
        </p>
        <p class="mt-3 text-body">
          <a class="quiet" href="/batch">all rings to size, together</a>
        </p>
      {/if}
    </div>
    <Keep
      bind:words={sheet.words}
      suggestion={plan?.title ?? ''}
      {job}
      mistakes={sheet.mistakes}
      busy={keeping.busy}
      ontheirs={keeping.rows !== null}
      onfinger={(finger) => sheet.take(finger)}
      onkeep={() => sheet.keep()}
    />
  </div>
  {#if plan && sheet.begun}
    <WhenReady
      work="resize"
      order={sheet.order}
      jobId={sheet.jobId}
      onpromise={(by) => (sheet.words = { ...sheet.words, ...by })}
    />
  {/if}
  {#if plan && chosen}
    <div class="bottom">
      <div class="min-w-0">
        <BeforeAfter {plan} stale={live.stale} />
        {#if chosen.terms.length}
          <div class="mt-5">
            <Ledger
              blank={chosen}
              mass="along the neutral line"
              sum={plan.lead.title}
              label="Ledger of the change"
              bind:lit={sheet.lit}
              stale={live.stale}
            />
          </div>
        {/if}
        <ul class="text-soft mt-3 space-y-1 text-small">
          {#each plan.figures as one (one.key)}
            <li>
              <span class="text-ink font-medium"><Say text={`${one.title} ${one.text}`} /></span>:
              <Say text={one.why} />
            </li>
          {/each}
        </ul>
        <div class="mt-4"><FinishGrid route={plan.route} stale={live.stale} /></div>
        <Parts {plan} {catalogue} stale={live.stale} />
      </div>
      <div class="min-w-0">
        <Advice
          {plan}
          stale={live.stale}
          onpick={(method) => (sheet.words.fields.method = method)}
        />
        <Fits {plan} onpick={(size) => (sheet.words.fields.to = size)} />
        {#each plan.warnings as line, i (i)}
          <p class="mt-2 text-note"><Say text={line} /></p>
        {/each}
      </div>
    </div>
  {/if}
</Frame>

<style>
  .top,
  .bottom {
    display: grid;
    gap: 1.5rem 3rem;
    grid-template-columns: 1fr;
  }
  .bottom {
    margin-top: 1.8rem;
    align-items: start;
  }
  @media (min-width: 1100px) {
    .top {
      grid-template-columns: 490px minmax(0, 1fr) 216px;
      gap: 0.4rem 2rem;
    }
    .bottom {
      grid-template-columns: 560px minmax(0, 1fr);
    }
  }
  @media (min-width: 1600px) {
    .top {
      grid-template-columns: 700px minmax(0, 1fr) 300px;
      gap: 0.4rem 4rem;
    }
    .top :global(.figure) {
      font-size: 224px;
    }
    .bottom {
      grid-template-columns: 700px minmax(0, 1fr);
      gap: 1.5rem 4rem;
    }
  }
</style>
