<script lang="ts">
  import { api, ask, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import type { Card } from './card.svelte'

  let { card, job }: { card: Card; job: Job } = $props()
  let beside = $state.raw<Schemas['BesideOut'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])

  async function look() {
    const path = { job_id: job.id }
    const answer = await ask(api.GET('/api/jobs/{job_id}/anew', { params: { path } }))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) {
      beside = answer.data
      mistakes = []
    }
  }
  async function take() {
    const answer = await card.send({
      method: 'PUT',
      path: `/api/jobs/${job.id}/anew`,
      body: { version: job.version },
      says: `${job.customer_name || job.title} planned anew`,
    })
    if (!answer.problem) beside = null
    else if (answer.problem.status === 409) await card.read()
  }
</script>

<section class="mt-3 max-w-[60rem] text-body" aria-label="An older plan" data-testid="older">
  {#if job.trouble}
    <p class="text-flame-text font-medium">{job.trouble}</p>
    {#each job.figures as figure (figure.title)}
      <p>
        {figure.title}: it was to be cut to
        <strong class="figure text-title">{figure.text}</strong>
      </p>
    {/each}
    <p class="text-soft text-note">
      It is kept as it is and goes out with the job file; nothing of it is planned anew by itself.
    </p>
  {:else}
    <p>{job.older}</p>
  {/if}
  <p class="mt-1 flex flex-wrap gap-x-5">
    <button type="button" class="quiet" onclick={look}>today's plan beside it</button>
    {#if job.closed_at}
      <button type="button" class="quiet" onclick={() => card.close(false)}
        >put it back on the bench</button
      >
    {:else if job.trouble}
      <button type="button" class="quiet" onclick={() => card.close(true)}
        >take it off the bench</button
      >
    {/if}
  </p>
  <Mistakes {mistakes} />
  {#if beside}
    <ul class="border-hairline mt-2 border-t pt-2">
      {#each beside.changes as change (change)}<li>{change}</li>{/each}
    </ul>
    <button type="button" class="btn btn-primary mt-2 text-body" onclick={take}
      >Take today's plan; the other stays in the record</button
    >
  {/if}
</section>
