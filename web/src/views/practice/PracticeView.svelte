<script lang="ts">
  import { untrack } from 'svelte'

  import { type Catalogue } from '$lib/api/client'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { notKept } from '../sheet/labels'
  import Keep from '../sheet/Keep.svelte'
  import Frame from '../sheet/Frame.svelte'
  import OrderWords from '../sheet/OrderWords.svelte'
  import { useSheet } from '../sheet/sheet.svelte'
  import { PracticeSheet } from './sheet.svelte'

  /** A practice: the same thing in rounds, read at each, for one's own hand. */
  let { catalogue, jobId }: { catalogue: Catalogue; jobId: number | null } = $props()
  const sheet = untrack(() => new PracticeSheet(catalogue, jobId))
  const { live, keeping } = sheet
  const job = $derived(sheet.job)
  const plan = $derived(sheet.plan)

  useSheet(
    sheet,
    () => keeping.begin(false),
    () => document.querySelector<HTMLSelectElement>('[aria-label="Exercise"]')?.focus(),
  )
</script>

<Frame {sheet} {catalogue} fresh="A practice" kept="Order of practice">
  <div class="top">
    <section aria-label="The practice" class="min-w-0">
      {#each catalogue.sentences.practice ?? [] as words, i (i)}
        <p class={i ? 'mt-2 text-lead leading-[1.7]' : 'text-order leading-[1.62]'}>
          <OrderWords
            bind:fields={sheet.words.fields}
            {words}
            {catalogue}
            mistakes={sheet.mistakes}
          />.
        </p>
      {/each}
      <Mistakes mistakes={notKept(sheet.mistakes)} />
    </section>
    <div class="min-w-0">
      {#if plan}
        <section aria-label="What to do">
          <BigFigure
            figure={plan.wanted_text}
            unit={plan.units}
            label={plan.rounds === 1 ? 'once' : `each, ${plan.rounds} rounds`}
            stale={live.stale}
          />
        </section>
        <div class={['mt-2 text-lead leading-[1.5]', live.stale && 'stale', 'eased']}>
          {#each plan.says as line, i (i)}<p class={i ? 'text-blue' : ''}>
              <Say text={line} />
            </p>{/each}
        </div>
        <ul class="text-soft mt-3 space-y-1 text-small">
          {#each plan.figures as one (one.key)}
            <li>
              <span class="text-ink font-medium"><Say text={`${one.title} ${one.text}`} /></span>:
              <Say text={one.why} />
            </li>
          {/each}
        </ul>
      {/if}
    </div>
    <Keep
      bind:words={sheet.words}
      suggestion={plan?.title ?? ''}
      {job}
      mistakes={sheet.mistakes}
      busy={keeping.busy}
      ontheirs={keeping.rows !== null}
      onkeep={() => sheet.keep()}
    />
  </div>
  {#if plan}
    <ol class="steps" aria-label="The steps of a round">
      {#each plan.route.slice(0, plan.route.length / plan.rounds) as step (step.key)}
        <li>
          <span class="font-medium"><Say text={step.title.replace(', round 1', '')} /></span>
          <span class="text-soft">{step.do[0]}</span>
          {#each step.measure as one (one.key)}
            <span class="text-blue mr-3">{one.title.replace(', round 1', '')}</span>
          {/each}
        </li>
      {/each}
    </ol>
  {/if}
</Frame>

<style>
  .top {
    display: grid;
    gap: 1.5rem 3rem;
    grid-template-columns: 1fr;
  }
  .steps {
    margin-top: 2rem;
    max-width: 62rem;
    list-style: decimal;
    padding-left: 1.6rem;
  }
  .steps li {
    padding: 0.3rem 0;
  }
  @media (min-width: 1100px) {
    .top {
      grid-template-columns: 444px minmax(0, 1fr) 230px;
    }
  }
</style>
