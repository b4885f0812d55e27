<script lang="ts">
  import { onMount } from 'svelte'

  import { isAway, type Catalogue, type Mistake } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import { gauges, type Gauge } from '$lib/gauges.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import ConversionStrip from './ConversionStrip.svelte'

  let { catalogue }: { catalogue: Catalogue } = $props()
  let name = $state('')
  let kind = $state('mandrel')
  let scale = $state(session.who?.ways?.home_scale ?? 'us')
  let place = $state('')
  let mistakes = $state.raw<Mistake[]>([])
  const kindOf = (key: string) => catalogue.gauge_kinds.find((one) => one.key === key)?.title ?? key
  const scaleOf = (key: string) => catalogue.scales.find((one) => one.key === key)?.title ?? key

  const draft = new Draft(
    'gauges',
    () => ({ name, kind, scale, place }),
    (typed) => ({ name, kind, scale, place } = typed),
  )
  onMount(() => {
    void gauges.read()
    void draft.begin()
  })
  $effect(() => draft.keep())

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    const body = { name, kind, scale, place, put_away: false }
    const answer = await outbox.send<Gauge>({
      method: 'POST',
      path: '/api/gauges',
      body,
      says: `the new gauge ${name}`,
      where: '/gauges',
      slot: draft.slot,
    })
    if (answer.problem) mistakes = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      draft.done()
      router.go(`/gauges/${answer.data.id}`)
    }
  }
</script>

<h1 class="text-title leading-tight">The shop's gauges</h1>
<ul class="border-hairline mt-4 border-t">
  {#each gauges.list as gauge (gauge.id)}
    {@const newest = gauge.calibrations[0]}
    <li class="border-hairline border-b">
      <a href={`/gauges/${gauge.id}`} class="row hover:bg-wash">
        <span class={['font-medium', gauge.put_away && 'text-soft']}>{gauge.name}</span>
        <span class="text-soft"
          >{kindOf(gauge.kind)}, {scaleOf(gauge.scale)}{gauge.place ? `, ${gauge.place}` : ''}</span
        >
        <span class={newest ? '' : 'text-flame-text'}>
          {#if gauge.put_away}put away
          {:else if newest}<Say text={newest.fit.says[0] ?? ''} />
          {:else}not calibrated: its sizes are taken as ideal{/if}
        </span>
        <span class="text-soft">{newest ? newest.at.slice(0, 10) : ''}</span>
      </a>
    </li>
  {:else}
    {#if gauges.loaded}<li class="py-2">None yet: describe the first below.</li>{/if}
  {/each}
</ul>

<form class="mt-5" onsubmit={keep}>
  <p class="text-lead leading-[1.9]">
    Keep a <Choose
      bind:value={kind}
      label="Kind"
      field="kind"
      choices={catalogue.gauge_kinds}
      {mistakes}
    />
    called <Word
      bind:value={name}
      label="Name of the gauge"
      field="name"
      placeholder="its name"
      {mistakes}
    />
    with <Choose
      bind:value={scale}
      label="Scale"
      field="scale"
      choices={catalogue.scales}
      {mistakes}
    />
    marks, <Word
      bind:value={place}
      label="Where it lives"
      field="place"
      placeholder="where it lives"
      {mistakes}
    />.
    {#if outbox.from('/gauges').length}<span class="text-flame-text">It is on its way.</span>
    {:else if session.may('calibrate')}<button class="btn btn-primary ml-2 text-body leading-tight"
        >Keep it</button
      >{/if}
  </p>
  <DraftSays {draft} />
  <Mistakes {mistakes} />
</form>

<ConversionStrip />

<p class="mt-8">
  <a class="quiet" href="/charts">Check a printed chart</a> ·
  <a class="quiet" href="/true-size">True size on this screen</a>
</p>

<style>
  .row {
    display: grid;
    grid-template-columns: 1fr 1.5fr 2.3fr 6rem;
    gap: 0.2rem 1.2rem;
    padding: 0.5rem 0;
    align-items: baseline;
  }
  @media (max-width: 900px) {
    .row {
      grid-template-columns: 1fr;
    }
  }
</style>
