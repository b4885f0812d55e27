<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { api, ask, isAway, type Catalogue, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Describe from './Describe.svelte'
  import { gauges, type Gauge } from '$lib/gauges.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import ZeroAsk from '$lib/parts/ZeroAsk.svelte'
  import { caliper } from '$lib/caliper.svelte'
  import { length } from '$lib/length.svelte'
  import { Live } from '$lib/live.svelte'
  import { session } from '$lib/session.svelte'
  import GaugeDrawing from './GaugeDrawing.svelte'
  import Readings from './Readings.svelte'

  let { gaugeId, catalogue }: { gaugeId: number; catalogue: Catalogue } = $props()
  let gauge = $state.raw<Gauge | null>(null)
  let missing = $state(false)
  const EMPTY = () => [1, 2, 3].map(() => ({ mark: '', mm: '' }))
  let rows = $state(EMPTY())
  const live = new Live<Schemas['GaugeFit']>()
  const fit = $derived(live.answer)
  let refused = $state.raw<Mistake[]>([])
  const mistakes = $derived([...live.mistakes, ...refused])
  let busy = $state(false)
  const here = $derived(`/gauges/${gaugeId}`)
  const path = $derived({ gauge_id: gaugeId })
  const scale = $derived(catalogue.scales.find((one) => one.key === gauge?.scale)?.title ?? '')
  const typed = $derived(rows.filter((row) => row.mark.trim() && row.mm.trim()))
  const readings = $derived(
    typed.map((row) => ({
      mark: row.mark,
      diameter_mm: row.mm,
    })),
  )
  const zero = $derived(caliper.zero || '0')
  const units = $derived(session.who?.ways?.caliper_units ?? 'mm')
  const shown = $derived(typed.length ? fit : (gauge?.calibrations[0]?.fit ?? null))

  const scaleKey = (one: Gauge) => one.scale as Schemas['GaugeRequest']['scale']
  const draft = new Draft(
    untrack(() => `gauges/${gaugeId}`),
    () => rows.map((row) => ({ ...row })),
    (typed) => (rows = typed),
  )
  onMount(() => {
    void read()
    void draft.begin()
  })
  $effect(() => draft.keep())
  $effect(() =>
    outbox.listen((item) => {
      if (!draft.owns(item.slot)) return false
      calibrated(item.body as { readings: typeof readings })
      void read()
      return true
    }),
  )

  async function read() {
    const answer = await ask(api.GET('/api/gauges/{gauge_id}', { params: { path } }))
    if (answer?.problem) {
      missing = answer.problem.status === 404
      refused = answer.problem.errors
    } else if (answer) gauge = answer.data
  }

  $effect(() => {
    refused = []
    if (!gauge || !readings.length) return live.clear()
    const body = { scale: scaleKey(gauge), readings, name: gauge.name, zero_mm: zero, units }
    return live.want((signal) => ask(api.POST('/api/plan/gauge', { body, signal })))
  })

  async function keep() {
    busy = true
    const sent = readings
    const answer = await outbox.send<Gauge>({
      method: 'POST',
      path: `/api/gauges/${gaugeId}/calibrations`,
      body: { readings: sent, zero_mm: zero, typed_in: units },
      says: `the calibration of ${gauge?.name ?? ''}`,
      where: here,
      slot: draft.slot,
    })
    busy = false
    if (answer.problem) refused = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      gauge = answer.data
      calibrated({ readings: sent })
      void gauges.read()
    }
  }
  /** A calibration was kept: the lines are free again, unless more marks are being read already. */
  function calibrated(sent: { readings: typeof readings }) {
    if (JSON.stringify(sent.readings) !== JSON.stringify(readings)) return
    rows = EMPTY()
    live.clear()
    draft.done()
  }
</script>

{#if missing}
  <h1 class="text-title">There is no such gauge in this workshop.</h1>
{:else if gauge}
  <div class="flex flex-wrap items-baseline justify-between gap-x-8">
    <h1 class="text-title leading-tight">
      <span class="font-semibold">{gauge.name}</span>
      <span class="text-soft text-lead">{scale} marks</span>
    </h1>
    <p class="flex gap-5 text-note">
      <a class="quiet" href="/gauges">all gauges</a>
    </p>
  </div>
  <Describe {gauge} {catalogue} onsaved={(saved) => (gauge = saved)} />

  {#if shown}
    <div class="mt-5"><GaugeDrawing fit={shown} stale={mistakes.length > 0} /></div>
    <ul
      class={['mt-2 text-lead leading-[1.5]', mistakes.length && 'stale']}
      data-testid="fit-says"
      aria-live="polite"
    >
      {#each shown.says as line, i (i)}<li><Say text={line} /></li>{/each}
      <li class="text-soft text-note">
        {shown.more_readings
          ? `${shown.more_readings} more ${shown.more_readings === 1 ? 'reading is' : 'readings are'} worth taking.`
          : 'Further readings would gain nothing.'}
        Fitted by {shown.method}.
      </li>
    </ul>
  {/if}

  <div class="mt-6 grid gap-10 md:grid-cols-2">
    <section aria-label="Calibrate">
      <h2 class="text-lead font-medium">Read its marks</h2>
      <p class="text-soft mb-2 max-w-[34rem] text-note">
        Inside jaws on the knife edge of each mark, wiggled to the largest reading. Three marks or
        more, far apart.
      </p>
      {#if !caliper.asked}
        <ZeroAsk
          ondone={() =>
            document.querySelector<HTMLInputElement>('[data-measure="mark-0"]')?.focus()}
        />
      {/if}
      <Readings bind:rows {mistakes} />
      <Mistakes {mistakes} />
      <DraftSays {draft} />
      {#if session.may('calibrate')}
        <button
          type="button"
          class="btn btn-primary mt-3"
          disabled={busy || outbox.from(here).length > 0 || !readings.length || mistakes.length > 0}
          onclick={keep}>Keep this calibration</button
        >{/if}
    </section>
    <section aria-label="Calibrations kept">
      <h2 class="text-lead font-medium">Kept</h2>
      <ol class="mt-1">
        {#each gauge.calibrations as one, i (one.id)}
          <li class={['py-1', i && 'text-soft']}>
            <span class="font-medium">{one.at.slice(0, 10)}</span>
            {one.fit.residuals.length} marks{one.fit.off_marks.length
              ? `, without ${one.fit.off_marks.join(', ')}`
              : ''}: offset
            {length(one.fit.offset_mm, 3)}, gain {one.fit.gain.toFixed(4)}, scatter {length(
              one.fit.spread_mm,
            )}{one.by ? `, ${one.by}` : ''}{i ? '' : '; in use'}
          </li>
        {:else}
          <li>Not calibrated yet: its sizes are taken as ideal.</li>
        {/each}
      </ol>
    </section>
  </div>
{:else}
  <Mistakes {mistakes} />
{/if}
