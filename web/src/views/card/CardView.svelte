<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { awakeAble, stayAwake } from '$lib/awake'
  import { clock } from '$lib/clock.svelte'
  import { gauges } from '$lib/gauges.svelte'
  import { keys } from '$lib/keys.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { dueWords } from '$lib/text'
  import { session } from '$lib/session.svelte'
  import { workOf } from '../works'
  import { Card } from './card.svelte'
  import Estimate from './Estimate.svelte'
  import History from './History.svelte'
  import Older from './Older.svelte'
  import Photos from './Photos.svelte'
  import Place from './Place.svelte'
  import RouteList from './RouteList.svelte'
  import StepView from './StepView.svelte'

  let { jobId }: { jobId: number } = $props()
  const card = untrack(() => new Card(jobId))
  const job = $derived(card.job)
  const step = $derived(card.step)
  const work = $derived(job && workOf(job))
  let history = $state(false)
  let estimate = $state(false)
  let metal = $state(false)

  onMount(() => {
    card.leave = () => {
      if (document.activeElement instanceof HTMLInputElement) document.activeElement.blur()
    }
    void gauges.read().then(() => card.read())
    return keys.add([
      { key: 'Enter', says: 'this step is done; the next one', run: () => void card.tick(true) },
      {
        key: 'Backspace',
        says: 'this step is not done after all',
        run: () => void card.tick(false),
      },
      { key: 'ArrowRight', says: 'look at the next step', run: () => card.go(1) },
      { key: 'ArrowLeft', says: 'look at the step before', run: () => card.go(-1) },
      {
        key: 'm',
        says: 'the measure of this step',
        run: () => document.querySelector<HTMLInputElement>('[data-measure]')?.focus(),
      },
    ])
  })
  $effect(() => card.listen())
  const awake = $derived(awakeAble && session.who?.ways.stay_awake)
  $effect(() => (awake ? stayAwake() : undefined))
</script>

<svelte:window
  onhashchange={() => {
    const step = card.named()
    if (step) card.show(step.key)
  }}
/>

{#if card.missing}
  <h1 class="text-title">There is no such job in this workshop.</h1>
  <p class="mt-3"><a class="quiet" href="/">Back to the bench</a></p>
{:else if job}
  <div class="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-1">
    <h1 class="text-order leading-tight">
      <span class="font-semibold">{job.customer_name || job.title}</span>{job.customer_name
        ? `, ${job.title}`
        : ''}
      <span class="text-soft text-lead"
        ><Say text={`${job.headline ? `${job.headline}; ` : ''}${dueWords(job.due, clock.now)}`} />;
        no. {job.number}{job.ticket ? `, ticket ${job.ticket}` : ''}</span
      >
    </h1>
    <p class="flex flex-wrap gap-x-5 text-note">
      {#if work}<a class="quiet" href={`/${work.at}/${job.id}`}>the order</a>{/if}
      {#if card.now?.blanks.length}
        <a class="quiet" href={`/api/jobs/${job.id}/blank.pdf`} target="_blank">blank, true size</a>
        <a class="quiet" href={`/api/jobs/${job.id}/blank.svg`} target="_blank">as SVG</a>
        <a class="quiet" href={`/api/jobs/${job.id}/blank.dxf`}>as DXF</a>
      {/if}
      {#if job.plan}
        <a class="quiet" href={`/api/jobs/${job.id}/ticket.pdf`} target="_blank">ticket</a>
        {#if job.comes_in}
          <a class="quiet" href={`/api/slips/${job.id}.pdf`} target="_blank">slip</a>
          {#if job.together.length > 1}
            <a class="quiet" href={`/api/slips/${job.together.join(',')}.pdf`} target="_blank"
              >one slip for {job.together.length} rings of theirs</a
            >
          {/if}
        {/if}
      {/if}
      <a class="quiet" href={`/api/jobs/${job.id}/file`} target="_blank">job file</a>
      {#if job.plan}
        <button type="button" class="quiet" aria-expanded={metal} onclick={() => (metal = !metal)}
          >metal</button
        >
        {#if job.for_customer && session.may('estimate')}
          <button
            type="button"
            class="quiet"
            aria-expanded={estimate}
            onclick={() => (estimate = !estimate)}>estimate</button
          >
        {/if}
      {/if}
      <button
        type="button"
        class="quiet"
        aria-expanded={history}
        onclick={() => (history = !history)}>history</button
      >
    </p>
  </div>
  {#if job.note}<p class="mt-1 text-body">{job.note}</p>{/if}
  <Place {card} {job} />
  <Mistakes mistakes={card.mistakes} />
  {#if job.wrong}<p class="text-flame-text mt-1">
      As measured it cannot be planned: {job.wrong}
    </p>{/if}
  {#if job.older || job.trouble}<Older {card} {job} />{/if}
  {#if history}<History {job} />{/if}
  {#if estimate}<Estimate {job} />{/if}
  {#if metal}
    {#await import('./JobMetal.svelte') then found}<found.default {job} />{/await}
  {/if}
  {#if card.solder}
    <p class="text-blue mt-3 text-lead" role="status" data-testid="solder-asked">
      {card.solder}
      <button type="button" class="quiet ml-3" onclick={() => void card.takeSolder(true)}
        >take it from the drawer</button
      >
      <button type="button" class="quiet ml-3" onclick={() => void card.takeSolder(false)}
        >not for this job</button
      >
    </p>
  {/if}
  {#if step && card.now}
    <div class="card">
      <RouteList
        steps={card.steps}
        done={card.done}
        at={step.key}
        onpick={(key) => card.show(key)}
      />
      {#key step.key}
        <StepView {card} {job} now={card.now} {step} />
      {/key}
    </div>
  {/if}
  {#if work?.soFar}
    {#await work.soFar.load() then found}<found.default {job} />{/await}
  {/if}
  {#if job.comes_in || job.photos.length}<Photos {card} {job} />{/if}
{:else}
  <Mistakes mistakes={card.mistakes} />
{/if}

<style>
  .card {
    display: grid;
    gap: 2rem 3rem;
    margin-top: 1.4rem;
  }
  /* on a phone the step to do comes first, the whole route after it */
  @media (max-width: 899px) {
    .card > :global(:last-child) {
      order: -1;
    }
  }
  @media (min-width: 900px) {
    .card {
      grid-template-columns: 330px minmax(0, 1fr);
    }
  }
</style>
