<script lang="ts">
  import { tick as settled, type Component } from 'svelte'

  import { owner, type Job, type Step, type WorkPlan } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { caliper } from '$lib/caliper.svelte'
  import { columnsOf, waitsFor } from '$lib/finish'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import FinishGrid from '$lib/parts/FinishGrid.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Strip from '$lib/parts/Strip.svelte'
  import ZeroAsk from '$lib/parts/ZeroAsk.svelte'
  import { clock as hour, countdown, minutes, nth } from '$lib/text'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { pulse } from '$lib/pulse.svelte'
  import { Hands } from '../day/hands.svelte'
  import type { Card } from './card.svelte'
  import { workOf } from '../works'
  import Hardness from './Hardness.svelte'
  import Closing from './Closing.svelte'
  import StepLines from './StepLines.svelte'
  import MeasureField from './MeasureField.svelte'

  interface Props {
    card: Card
    job: Job
    now: WorkPlan
    step: Step
  }
  let { card, job, now, step }: Props = $props()
  const doneAt = $derived(card.done.get(step.key) ?? '')
  const last = $derived(card.index === card.steps.length - 1)
  const times = $derived(job.done.find((one) => one.key === step.key)?.nth ?? 1)
  /** Where a reading left the way no sense, the last step is no work: the way is chosen anew on the sheet. */
  const stop = $derived(last && card.stopped)
  const held = $derived(pulse.holder(job.id, step.key))
  const hands = new Hands()
  const mine = $derived({ job_id: job.id, key: step.key, name: job.title })
  let lit = $state('')
  let act: HTMLButtonElement | undefined = $state()
  let fields: HTMLElement | undefined = $state()

  const blank = $derived(now.blanks.find((one) => one.name === step.blank) ?? now.blanks[0])
  const heat = $derived(job.fires.includes(step.key))
  const work = $derived(workOf(job)?.drawn)
  const beside = $derived(work?.stations.includes(step.station) ? work.load() : null)
  /** What some steps open beside their words: fetched when it is wanted, so that a bench opens without them. */
  type Opened = { default: Component<{ card: Card; job: Job; step: Step }> }
  const SHEETS: Record<string, () => Promise<Opened>> = {
    joint: () => import('../joint/JointSheet.svelte'),
    heat: () => import('../heat/HeatSheet.svelte'),
    anneal: () => import('../heat/Anneal.svelte'),
  }
  const opens = $derived(job.opens[step.key] ?? '')
  const opened = $derived(SHEETS[opens]?.())
  /** How hard the metal is after this step, where it works or softens it. */
  const bars = $derived(job.hardness.filter((one) => one.step === step.key))
  const columns = $derived(step.station === 'finish' ? columnsOf(now.route) : [])
  const coarser = $derived(waitsFor(columns, step.key, card.done))
  const drawn = $derived(step.station === 'cut' && step.figure !== '')
  const waits = $derived(
    job.standing.next_key === step.key && job.standing.ready_at
      ? new Date(job.standing.ready_at)
      : null,
  )

  /** After a measure is kept: the next one, or the button that ends the step. */
  async function onward(key: string) {
    await settled()
    const all = [...(fields?.querySelectorAll<HTMLInputElement>('[data-measure]') ?? [])]
    const next = all[all.findIndex((field) => field.dataset.measure === key) + 1]
    if (next) next.focus()
    else act?.focus()
  }
</script>

{#snippet sheet()}
  {#await opened then found}
    {#if found}<found.default {card} {job} {step} />{/if}
  {:catch}
    <p class="text-flame-text mt-4 text-body">
      This part of the page does not come. Load the page again: nothing typed is lost.
    </p>
  {/await}
{/snippet}

<section aria-label={step.title} class="min-w-0" data-testid="step">
  <p class="text-soft text-body">
    {step.station.replace('-', ' ')}; {minutes(step.hands_min)} of hands{step.wait_min
      ? `, then ${minutes(step.wait_min)} by itself`
      : ''}{#if opens === 'heat'}; <button
        type="button"
        class="quiet"
        onclick={() => document.getElementById('heat')?.scrollIntoView()}
        >see it in the flame</button
      >{/if}
  </p>
  {#if step.comes}
    <p class="text-body" data-testid="comes">
      <span class="text-soft">How it stands:</span>
      <Say text={step.comes} />
    </p>
  {/if}
  <div class="flex flex-wrap items-start justify-between gap-x-8 gap-y-3">
    <h2 class="text-title leading-[1.15] font-medium" aria-live="polite">
      <Say text={step.title} />
    </h2>
    {#if step.figure}
      <BigFigure
        figure={step.figure}
        unit={step.unit}
        label={step.title}
        size="step"
        flame={step.torch}
      />
    {/if}
  </div>
  {#if waits && waits > clock.now}
    <p class="text-flame-text mt-2 text-lead font-medium">
      Ready at {hour(waits)}, in {countdown(waits, clock.now)}.
    </p>
  {/if}

  {#if opens === 'joint'}{@render sheet()}{/if}
  <StepLines todo={step.do} check={step.check} />
  {#each step.caution as line, i (i)}
    <p class="text-flame-text mt-3 max-w-[52rem] text-body"><Say text={line} /></p>
  {/each}
  {#if step.caution.length}
    <p class="text-soft max-w-[52rem] text-small">
      Your local rules, the maker's data sheet and licensed practice come first.
    </p>
  {/if}

  {#if columns.some((column) => column.step === step.key)}
    <div class="mt-5"><FinishGrid route={now.route} here={step.key} done={card.done} /></div>
    {#if coarser && !doneAt}
      <p class="mt-3 text-body" data-testid="grit-waits">
        {coarser} is not done on every face yet: a coarser scratch shows through for ever.
      </p>
    {/if}
  {/if}
  {#if bars.length}<Hardness {bars} />{/if}
  {#if opens && opens !== 'joint'}{@render sheet()}{/if}

  {#if step.measure.length}
    <div bind:this={fields} class="mt-5 space-y-3">
      {#if !caliper.asked && step.measure.some((asked) => asked.kind === 'length')}
        <ZeroAsk ondone={() => onward('zero')} />
      {/if}
      {#each step.measure as asked (asked.key)}
        <MeasureField {card} {job} {asked} ondone={() => onward(asked.key)} />
      {/each}
    </div>
  {/if}

  <!-- at hand however long the sheet above it is -->
  <p
    class="bg-base-100 sticky bottom-0 z-10 mt-5 flex flex-wrap items-baseline gap-6 py-3"
    data-testid="act"
  >
    {#if doneAt}
      <span class="text-lead"
        >Done at {hour(new Date(doneAt))}{times > 1 ? `, for the ${nth(times)} time` : ''}.</span
      >
      <button type="button" class="quiet" onclick={() => card.tick(false)}
        >not done after all</button
      >
      <button type="button" class="quiet" onclick={() => card.tick(true, true)}
        >done once more</button
      >
    {:else if stop}
      <a class="btn btn-primary text-lead" href={`/${workOf(job)?.at}/${job.id}`}
        >Choose the way anew</a
      >
    {:else}
      <button
        bind:this={act}
        type="button"
        class="btn btn-primary text-lead"
        onclick={() => card.tick(true)}
        >{coarser ? 'Done all the same' : 'Done'}{last ? '' : ', next'}</button
      >
    {/if}
    {#if !doneAt && !stop && step.key === job.standing.next_key}
      {#if held && held.person_id !== owner.person}
        <span class="text-flame-text" data-testid="held">{held.by} has it in hand.</span>
      {:else if held}
        <button type="button" class="quiet" onclick={() => void hands.giveBack(mine)}
          >give it back</button
        >
      {:else}
        <button type="button" class="quiet" onclick={() => void hands.take(mine)}
          >take it in hand</button
        >
      {/if}
    {/if}
    {#if doneAt && heat}
      <button type="button" class="quiet" onclick={() => void card.onceMore()}
        >this heat once more: flux, solder, pickle</button
      >
    {/if}
  </p>
  {#if card.told}<p class="text-flame-text" role="status" data-testid="told">{card.told}</p>{/if}
  <Mistakes mistakes={hands.mistakes} />
  <Closing {card} {job} last={last && (stop || doneAt !== '')} />
  {#if heat && job.heats}
    <p class={['mt-3 text-lead', job.heats > 1 && 'text-flame-text']} data-testid="heats">
      {job.heats === 1 ? 'One heat so far.' : `${job.heats} heats so far.`}
      {#if job.heats > 1}
        After the second a lower grade, or anti-flux on the old seams, is wiser.
      {/if}
    </p>
  {/if}

  {#if beside}
    {#await beside then found}
      <div class="mt-6"><found.default plan={now} stale={false} width={520} height={230} /></div>
    {/await}
  {/if}
  {#if drawn && blank}
    <div class="mt-6">
      <Strip {blank} family={now.metal.family} named={now.blanks.length > 1} bind:lit />
    </div>
  {/if}
</section>
