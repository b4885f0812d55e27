<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { session } from '$lib/session.svelte'
  import { whenWords } from '$lib/text'

  /** What this job is going to cost, in its own metal or in another; what was given stays as it was. */
  let { job }: { job: Job } = $props()
  let metal = $state('')
  let found = $state.raw<Schemas['EstimatesOut'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  const metals = $derived([
    { key: '', title: job.plan?.metal.title ?? 'its metal' },
    ...(session.catalogue?.metals ?? []).filter((one) => one.key !== job.plan?.metal.key),
  ])

  onMount(() => void read())

  async function read() {
    const params = { path: { job_id: job.id }, query: { metal } }
    const answer = await ask(api.GET('/api/jobs/{job_id}/estimate', { params }))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) {
      found = answer.data
      mistakes = []
    }
  }
  async function keep() {
    const answer = await outbox.send<Schemas['EstimatesOut']>({
      method: 'POST',
      path: `/api/jobs/${job.id}/estimate`,
      body: { metal },
      says: `an estimate for ${job.customer_name || job.title}`,
      where: `/job/${job.id}`,
    })
    if (answer.problem) mistakes = answer.problem.errors
    else found = answer.data
  }
</script>

<section aria-label="Estimate" class="mt-4 max-w-[60rem] text-body" data-testid="estimate">
  {#if !job.comes_in}
    <p>
      In <Choose
        bind:value={
          () => metal,
          (v) => {
            metal = v
            void read()
          }
        }
        label="Estimate in"
        field="metal"
        choices={metals}
        {mistakes}
      />
    </p>
  {/if}
  {#if found}
    <ul class="mt-1">
      {#each found.now.lines as line (line.key)}
        <li class="line">
          <span class="amount">{line.amount}</span>
          <span class="font-medium">{line.title}</span>
          <span class="text-soft text-note"><Say text={line.why} /></span>
        </li>
      {/each}
    </ul>
    <p class="line border-ink border-t-2">
      <span class="amount" data-testid="estimate-total">{found.now.total}</span>
      <span>{found.now.currency} in all</span>
    </p>
    {#each found.now.missing as said (said)}
      <p class="text-flame-text text-note">Not in it: <Say text={said} />.</p>
    {/each}
    {#if found.now.missing.length}
      <p class="text-soft text-note">
        Prices are said in the <a class="quiet" href="/ways">ways</a>.
      </p>
    {/if}
    <p class="mt-2 flex flex-wrap items-baseline gap-x-5">
      <button type="button" class="btn btn-primary text-body" onclick={() => void keep()}
        >Keep this estimate</button
      >
      {#each found.kept as one (one.nth)}
        <span class="text-note"
          ><a class="quiet" href={`/api/jobs/${job.id}/estimate-${one.nth}.pdf`} target="_blank"
            >no. {one.nth}</a
          >
          {one.total}
          {one.currency}, {one.metal},
          <span class="text-soft">{whenWords(one.at, clock.now)}{one.by ? `, ${one.by}` : ''}</span
          ></span
        >
      {/each}
    </p>
  {/if}
  <Mistakes {mistakes} />
</section>

<style>
  .line {
    display: grid;
    grid-template-columns: 6rem 10rem 1fr;
    gap: 0.8rem;
    align-items: baseline;
    padding: 0.25rem 0;
  }
  .amount {
    font-family: var(--font-figure);
    font-weight: 500;
    font-size: var(--text-lead);
    text-align: right;
  }
  @media (max-width: 560px) {
    .line {
      grid-template-columns: 5rem 1fr;
    }
    .line > :nth-child(3) {
      grid-column: 2;
    }
  }
</style>
