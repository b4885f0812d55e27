<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { api, ask, type Catalogue, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { gauges } from '$lib/gauges.svelte'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import Ledger from '$lib/parts/Ledger.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import SectionDrawing from '$lib/parts/SectionDrawing.svelte'
  import Strip from '$lib/parts/Strip.svelte'
  import TaperDrawing from '$lib/parts/TaperDrawing.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { fromField, toField } from '$lib/text'
  import Keep from './Keep.svelte'
  import { first, fromJob, LivePlan, toOrder, type Words } from './order.svelte'
  import OtherRules from './OtherRules.svelte'
  import Sentence from './Sentence.svelte'

  let { catalogue, jobId }: { catalogue: Catalogue; jobId: number | null } = $props()

  const DRAFT = 'ring-draft'
  const START = 'ring-start'
  const KEPT_GAUGE = 'kept'
  const live = new LivePlan()
  const DEFAULT_WAYS = { home_scale: 'us', units: 'mm', rule: 'centroid' } as Schemas['Ways']
  const ways = $derived(session.who?.ways ?? DEFAULT_WAYS)
  let words = $state<Words>(untrack(() => first(ways)))
  let job = $state.raw<Job | null>(null)
  let lit = $state('')
  let busy = $state(false)
  let refused = $state.raw<Mistake[]>([])
  let theirs = $state(0)
  let missing = $state(false)

  const needs = $derived(catalogue.profiles.find((p) => p.key === words.profile)?.needs ?? [])
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
  const order = $derived(toOrder(words, needs, ways, gauge))
  const mistakes = $derived(
    [...live.mistakes, ...refused].filter(
      (one, i, all) =>
        all.findIndex((m) => m.field === one.field && m.message === one.message) === i,
    ),
  )

  onMount(() => {
    void gauges.read()
    if (jobId) void read(jobId)
    else {
      const draft = sessionStorage.getItem(DRAFT)
      const start = sessionStorage.getItem(START)
      if (draft) words = { ...words, ...(JSON.parse(draft) as Partial<Words>) }
      if (start) words = { ...words, ...(JSON.parse(start) as Partial<Words>) }
      sessionStorage.removeItem(START)
    }
    if (!jobId) document.querySelector<HTMLInputElement>('[aria-label="Finger size"]')?.focus()
    return () => live.stop()
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
      words = fromJob(
        answer.data,
        toField(answer.data.due),
        (answer.data.order as { gauge?: unknown }).gauge ? KEPT_GAUGE : '',
        ways.units,
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
  <div class="top">
    <Sentence bind:words {catalogue} gauges={choices} {needs} {mistakes} plan={live.plan} />
    {#if live.plan}
      {@const plan = live.plan}
      {@const blank = plan.blanks[0]}
      {#if blank}
        <section aria-label="Cut length" class="lead min-w-0">
          <BigFigure
            figure={blank.cut_text}
            unit={blank.unit}
            label="cut length"
            stale={live.stale}
          />
        </section>
        <div
          class={['says text-[19px] leading-[1.5]', live.stale && 'stale', 'eased']}
          aria-live="polite"
        >
          <p>
            {#if blank.fraction}<Say text={`${blank.fraction}. `} />{/if}<Say
              text={plan.says[0] ?? ''}
              strong={plan.closing.text}
            />
          </p>
          <p class="text-blue"><Say text={plan.says[1] ?? ''} /></p>
        </div>
      {/if}
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
    {#each plan.blanks as blank (blank.name)}
      <div class="mt-5">
        <Strip
          {blank}
          section={plan.section}
          family={plan.metal.family}
          stale={live.stale}
          bind:lit
        />
      </div>
      <div class="bottom">
        <Ledger
          {blank}
          mass={`${blank.mass_g.toFixed(2)} g of ${plan.metal.title}`}
          stale={live.stale}
          bind:lit
        />
        <SectionDrawing
          section={plan.section}
          family={plan.metal.family}
          words={plan.summary}
          stale={live.stale}
        />
        <div>
          <TaperDrawing {plan} stale={live.stale} />
          <OtherRules {plan} stale={live.stale} />
        </div>
      </div>
    {/each}
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
    .lead {
      grid-area: lead;
    }
    .says {
      grid-area: says;
    }
    .bottom {
      grid-template-columns: minmax(0, 1fr) 264px 364px;
    }
  }
</style>
