<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Bench, type BenchRing, type Mistake } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { finding } from '$lib/finding.svelte'
  import { keys } from '$lib/keys.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { capital, clock as hour, countdown, dayWords, dueWords, minutes } from '$lib/text'
  import { owner } from '$lib/api/client'
  import { pulse } from '$lib/pulse.svelte'
  import StripMotif from '$lib/parts/StripMotif.svelte'
  import { DayPlan } from '../day/day.svelte'
  import { Hands } from '../day/hands.svelte'
  import Aside from './Aside.svelte'
  import First from './First.svelte'
  import Line from './Line.svelte'
  import LookAgain from './LookAgain.svelte'

  let bench = $state.raw<Bench | null>(null)
  let mistakes = $state.raw<Mistake[]>([])

  const plan = new DayPlan()
  const hands = new Hands()
  /** What this person does first by the plan, and why; nothing where no plan is wanted. */
  const mine = $derived(
    plan.day?.wanted ? plan.day.nexts.find((one) => one.person_id === owner.person) : undefined,
  )
  const others = $derived(
    plan.day?.wanted ? plan.day.nexts.filter((one) => one.person_id !== owner.person) : [],
  )
  const held = $derived(mine ? pulse.holder(mine.job_id, mine.key) : undefined)
  const whose = (id: number) => plan.day?.people.find((one) => one.id === id)?.name ?? ''
  const later = $derived(
    mine && new Date(mine.begins).getTime() - pulse.now > 90_000 ? mine.begins : '',
  )
  const first_id = $derived(mine?.job_id ?? bench?.day.now_id)
  const byDue = $derived(
    [...(bench?.rings ?? [])].sort(
      (a, b) => (a.due ?? '9').localeCompare(b.due ?? '9') || a.id - b.id,
    ),
  )
  const here = $derived((bench?.rings ?? []).filter((ring) => !ring.place))
  /** What waits by itself, by its ring; and what is in the pot, whether or not its time is over. */
  const waits = $derived(new Map(pulse.running.map((one) => [one.job_id, one])))
  const next = $derived(pulse.running[0])
  const pot = $derived(pulse.timers.filter((one) => one.kind === 'pickle'))
  const potReady = $derived(pulse.ended.filter((one) => one.kind === 'pickle'))

  function place(ring: BenchRing) {
    return bench?.day.order.find((p) => p.id === ring.id)
  }
  function left(ring: BenchRing): string {
    const { hands_left_min, wait_left_min } = ring.standing
    if (!hands_left_min) return 'done'
    return `${minutes(hands_left_min)}${wait_left_min ? `, ${minutes(wait_left_min)} waiting` : ''}`
  }
  function placeWords(ring: BenchRing): string {
    const place =
      session.catalogue?.places.find((one) => one.key === ring.place)?.title ?? ring.place
    const until = ring.place_until ? `, until ${dayWords(ring.place_until)}` : ''
    return `${place}${ring.place_note ? `, ${ring.place_note}` : ''}${until}`
  }
  function lower(text: string): string {
    return text.slice(0, 1).toLowerCase() + text.slice(1)
  }

  async function read() {
    void plan.read()
    const answer = await ask(api.GET('/api/bench'))
    if (answer?.problem) mistakes = answer.problem.status === 401 ? [] : answer.problem.errors
    else if (answer) {
      bench = answer.data
      mistakes = []
    }
  }

  onMount(() => {
    void read()
    // what the clock alone changes: somebody is behind the plan, a wait is over
    const timer = setInterval(() => void read(), 60_000)
    const back = () => void read()
    window.addEventListener('focus', back)
    const remove = keys.add([
      {
        key: ' ',
        says: 'the card of the ring to do now',
        run: () => first_id && router.go(`/job/${first_id}`),
      },
    ])
    return () => {
      clearInterval(timer)
      plan.stop()
      window.removeEventListener('focus', back)
      remove()
    }
  })
  $effect(() => {
    // once nothing is on its way any more the bench is as it will stay
    void pulse.version // a change anywhere in the shop reads the bench anew
    if (session.who?.signed_in && !outbox.onTheirWay.length) void read()
  })
</script>

<Mistakes mistakes={[...mistakes, ...hands.mistakes]} />
{#if bench}
  {@const day = bench.day}
  <div class="flex flex-col gap-x-8 gap-y-3 md:flex-row md:items-start md:justify-between">
    <div class="max-w-[54rem]">
      <h1 class="text-title leading-[1.3]" data-testid="now">
        {#if mine}
          <span class="font-semibold"
            >{later ? `${capital(dueWords(later, clock.now))}:` : 'Now:'}</span
          >
          <a href={`/job/${mine.job_id}`} class="hover:text-blue"
            ><Say text={lower(mine.title)} />,
            <span class="font-semibold">{mine.name}</span></a
          >.
        {:else if day.now_id}
          <span class="font-semibold">Now:</span>
          <a href={`/job/${day.now_id}`} class="hover:text-blue"
            ><Say text={lower(day.now_title)} />,
            <span class="font-semibold">{day.now_name}</span></a
          >.
        {:else if bench.rings.length}
          {here.length
            ? day.says || 'All that is on the bench is done.'
            : 'Nothing is at the bench: all that is open is elsewhere.'}
        {:else}
          Nothing is on the bench.
          <a class="quiet" href="/ring">Make {bench.ever ? 'a' : 'the first'} ring</a>.
        {/if}
      </h1>
      {#if !bench.ever && session.may('ways')}<First />{/if}
      {#if mine}
        <p class="text-soft mt-1 text-body" data-testid="why-now">
          {capital(mine.why)}. Space opens its card.
          {#if held && held.person_id !== owner.person}
            <span class="text-flame-text">{held.by} has it in hand.</span>
          {:else if held}
            In your hands since {hour(new Date(held.at))};
            <button type="button" class="quiet" onclick={() => void hands.giveBack(mine)}
              >give it back</button
            >
          {:else if !later}
            <button type="button" class="quiet" onclick={() => void hands.take(mine)}
              >take it in hand</button
            >
          {/if}
        </p>
        {#each others as one (one.person_id)}
          <p class="text-soft text-body">
            {whose(one.person_id)}:
            <a class="quiet" href={`/job/${one.job_id}`}
              ><Say text={lower(one.title)} />, <Say text={one.name} /></a
            >{pulse.holder(one.job_id, one.key)?.person_id === one.person_id ? ', in hand' : ''}
          </p>
        {/each}
      {:else if day.now_id}
        <p class="text-soft mt-1 text-body">Space opens its card. <Say text={day.says} /></p>
      {/if}
    </div>
    {#if next}
      <p class="shrink-0 md:max-w-[18rem] md:text-right" aria-live="off">
        <span class="figure text-flame-text text-title" data-testid="wait"
          >{countdown(new Date(next.ends_at), new Date(pulse.now))}</span
        ><br />
        <span class="mt-2 inline-block" data-testid="waits-for">
          {#if next.kind === 'pickle'}
            in the pot, {pot.length === 1 ? 'one ring' : `${pot.length} rings`}{potReady.length
              ? `, ${potReady.length} ready`
              : ''}
          {:else}{next.says}: <Say text={next.name} />{/if}
        </span>
      </p>
    {:else if pot.length}
      <p class="text-flame-text shrink-0 text-lead font-medium md:text-right">
        {pot.length === 1 ? 'One ring is' : `${pot.length} rings are`} ready in the pot
      </p>
    {/if}
  </div>

  {#if !bench.rings.length && !bench.ever}
    <div class="mt-7"><StripMotif /></div>
    <p class="mt-6 max-w-[46rem] text-lead leading-[1.6]">
      Say the finger, the metal and the stock; the length to cut stands there with its reasons, and
      its card leads from the first cut to the hand-over. Before that, if you like:
      <a class="quiet" href="/gauges">read your mandrel's marks</a>, so that sizes mean what your
      tools say, and <a class="quiet" href="/ways">say how you do things</a>. The key
      <kbd class="kbd">?</kbd> lists the others.
    </p>
  {/if}
  {#if bench.rings.length}
    <div class="mt-7">
      <Line
        rings={bench.rings}
        stations={session.catalogue?.stations ?? []}
        places={session.catalogue?.places ?? []}
      />
    </div>
    {#if plan.day?.wanted}
      <!-- fetched beside it, so that a bench opens without it -->
      {#await import('../day/DaySection.svelte') then found}
        <found.default {plan} />
      {:catch}
        <p class="text-flame-text mt-4">
          The plan of the day does not come. Load the page again: nothing typed is lost.
        </p>
      {/await}
    {/if}
    {#if bench.not_drawn}
      <p class="mt-3" data-testid="not-drawn">
        {bench.open_count} jobs are open; the {bench.rings.length} most pressing are drawn. The other
        {bench.not_drawn}
        are found by name, number or ticket:
        <button type="button" class="quiet" onclick={() => (finding.open = true)}>find a job</button
        >.
      </p>
    {/if}
    <ul class="border-hairline mt-6 border-t" aria-label="Open jobs by due date">
      {#each byDue as ring (ring.id)}
        {@const at = place(ring)}
        {@const wait = waits.get(ring.id)}
        <li class="border-hairline border-b" data-job={ring.number}>
          <a href={`/job/${ring.id}`} class="row hover:bg-wash">
            <span class={['due', at?.late && 'text-flame-text']}
              >{dueWords(ring.due, clock.now)}</span
            >
            <span><Say text={ring.name} /></span>
            <span class="text-soft"><Say text={ring.summary} /></span>
            <span class="text-blue font-medium">
              {#if ring.place}{placeWords(ring)}
              {:else if wait}{wait.says} until {hour(new Date(wait.ends_at))}
              {:else if ring.standing.next_key}<Say
                  text={lower(ring.standing.next_title)}
                />{#if pulse.holder(ring.id, ring.standing.next_key)}<span
                    class="text-soft font-normal"
                    >, {pulse.holder(ring.id, ring.standing.next_key)?.by} has it</span
                  >{/if}
              {:else}done: take it off the bench{/if}
            </span>
            <span class="text-soft">{left(ring)}{at?.late ? `; ${at.why}` : ''}</span>
          </a>
        </li>
      {/each}
    </ul>
  {/if}
  {#if bench.looks.length}
    <ul class="mt-6" aria-label="Look again" data-testid="looks">
      {#each bench.looks as one (one.id)}<LookAgain {one} ondone={read} />{/each}
      {#if bench.more_looks}<li class="text-soft">and {bench.more_looks} more</li>{/if}
    </ul>
  {/if}
  {#each bench.troubled as one (one.id)}
    <p class="text-flame-text mt-3" data-testid="troubled">
      <a class="quiet" href={`/job/${one.id}`}>{one.number} {one.name}</a> cannot stand on the
      bench: {one.says}
    </p>
  {/each}
  <Aside onbrought={read} />
{/if}

<style>
  .row {
    display: grid;
    grid-template-columns: 8.2rem 1.3fr 1.5fr 1.5fr 1.3fr;
    gap: 0.2rem 1.2rem;
    padding: 0.52rem 0;
    align-items: baseline;
  }
  .due {
    font-family: var(--font-figure);
    font-weight: 600;
    font-size: var(--text-body);
    white-space: nowrap;
  }
  @media (max-width: 900px) {
    .row {
      grid-template-columns: 8.2rem 1fr 1fr;
    }
    .row > :nth-child(4) {
      grid-column: 2;
    }
  }
  @media (max-width: 640px) {
    .row {
      grid-template-columns: 8.2rem 1fr;
    }
    .row > :nth-child(n + 3) {
      grid-column: 2;
    }
  }
</style>
