<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Job, type Mistake } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { gauges } from '$lib/gauges.svelte'
  import { keys } from '$lib/keys.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { router } from '$lib/router.svelte'
  import { dueWords } from '$lib/text'
  import RouteList from './RouteList.svelte'
  import StepView from './StepView.svelte'

  let { jobId }: { jobId: number } = $props()
  let job = $state.raw<Job | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  let missing = $state(false)
  let at = $state('')

  // the words of a step follow the stock as measured; the steps themselves are those of the kept plan
  const steps = $derived(
    (job?.plan.route ?? []).map(
      (step) => job?.now.route.find((now) => now.key === step.key) ?? step,
    ),
  )
  const done = $derived(new Map((job?.done ?? []).map((step) => [step.key, step.at])))
  const index = $derived(
    Math.max(
      0,
      steps.findIndex((step) => step.key === at),
    ),
  )
  const step = $derived(steps[index])

  function settle(answer: Awaited<ReturnType<typeof ask<Job>>>): boolean {
    if (!answer) return false
    if (answer.problem) {
      mistakes = answer.problem.errors
      missing = answer.problem.status === 404
      return false
    }
    job = answer.data
    mistakes = []
    return true
  }

  async function read() {
    const path = { job_id: jobId }
    if (settle(await ask(api.GET('/api/jobs/{job_id}', { params: { path } }))))
      at = job?.standing.next_key || (steps[steps.length - 1]?.key ?? '')
  }

  async function tick(isDone: boolean) {
    if (!step || !job) return
    const path = { job_id: job.id, key: step.key }
    const call = api.PUT('/api/jobs/{job_id}/steps/{key}', {
      params: { path },
      body: { done: isDone },
    })
    if (settle(await ask(call)) && isDone) go(1)
  }

  async function close(closed: boolean) {
    if (!job) return
    const path = { job_id: job.id }
    const call = api.PUT('/api/jobs/{job_id}/closed', { params: { path }, body: { closed } })
    if (settle(await ask(call)) && closed) router.go('/')
  }

  function go(by: number) {
    at = steps[Math.max(0, Math.min(steps.length - 1, index + by))]?.key ?? at
  }

  onMount(() => {
    void gauges.read().then(read)
    return keys.add([
      { key: 'Enter', says: 'this step is done; the next one', run: () => void tick(true) },
      { key: 'Backspace', says: 'this step is not done after all', run: () => void tick(false) },
      { key: 'ArrowRight', says: 'look at the next step', run: () => go(1) },
      { key: 'ArrowLeft', says: 'look at the step before', run: () => go(-1) },
      {
        key: 'm',
        says: 'the measure of this step',
        run: () => document.querySelector<HTMLInputElement>('[data-measure]')?.focus(),
      },
    ])
  })
</script>

{#if missing}
  <h1 class="text-3xl">There is no such job in this workshop.</h1>
  <p class="mt-3"><a class="quiet" href="/">Back to the bench</a></p>
{:else if job && step}
  <div class="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-1">
    <h1 class="text-[26px] leading-tight">
      <span class="font-semibold">{job.customer_name || job.title}</span>{job.customer_name
        ? `, ${job.title}`
        : ''}
      <span class="text-soft text-[19px]"
        ><Say
          text={`${job.now.summary}, ${job.now.target.text}; ${dueWords(job.due, clock.now)}`}
        /></span
      >
    </h1>
    <p class="flex flex-wrap gap-x-5 text-[16px]">
      <a class="quiet" href={`/ring/${job.id}`}>the order</a>
      <a class="quiet" href={`/api/jobs/${job.id}/blank.pdf`} target="_blank">blank, true size</a>
      <a class="quiet" href={`/api/jobs/${job.id}/blank.svg`} target="_blank">as SVG</a>
      <a class="quiet" href={`/api/jobs/${job.id}/blank.dxf`}>as DXF</a>
      <a class="quiet" href={`/api/jobs/${job.id}/ticket.pdf`} target="_blank">ticket</a>
      <a class="quiet" href={`/api/jobs/${job.id}/file`} target="_blank">job file</a>
    </p>
  </div>
  {#if job.note}<p class="mt-1 text-[17px]">{job.note}</p>{/if}
  <Mistakes {mistakes} />
  {#if job.wrong}<p class="text-flame-text mt-1">
      As measured it cannot be planned: {job.wrong}
    </p>{/if}

  <div class="card">
    <RouteList {steps} {done} at={step.key} onpick={(key) => (at = key)} />
    {#key step.key}
      <StepView
        {job}
        {step}
        doneAt={done.get(step.key) ?? ''}
        last={index === steps.length - 1}
        ontick={tick}
        onclose={close}
        onkept={(kept) => {
          job = kept
          mistakes = []
        }}
      />
    {/key}
  </div>
{:else}
  <Mistakes {mistakes} />
{/if}

<style>
  .card {
    display: grid;
    gap: 2rem 3rem;
    margin-top: 1.6rem;
  }
  @media (min-width: 900px) {
    .card {
      grid-template-columns: 330px minmax(0, 1fr);
    }
  }
</style>
