<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { pulse } from '$lib/pulse.svelte'
  import { clock as hour, countdown, dayWords, dueWords, minutes } from '$lib/text'
  import DayDrawing from './DayDrawing.svelte'
  import type { DayPlan } from './day.svelte'
  import { Hands } from './hands.svelte'

  /** The plan of the day under the bench's line: the hours, who comes late and what would save it, what ends by itself. */
  interface Props {
    plan: DayPlan
  }
  let { plan }: Props = $props()
  const MOST_BESIDE = 6
  const day = $derived(plan.day)
  const today = $derived(day?.today ?? '')
  const dayName = (on: string) => (on === today ? 'today' : dayWords(on))
  const hands = new Hands()
  async function pin(block: Schemas['Block'], at: Date | null, person: number | null) {
    await hands.pin(block, at, person)
    await plan.read()
  }
  async function leave(person: Schemas['AtBench'], gone: boolean) {
    await hands.leave(person, gone)
    await plan.read()
  }
  const here = $derived(
    day && day.on === today
      ? day.people.filter((one) => one.hours.some((span) => span.ends > day.now) && !one.gone_at)
      : [],
  )
  const left = $derived(day && day.on === today ? day.people.filter((one) => one.gone_at) : [])
  function show(on: string) {
    plan.on = on
    void plan.read()
  }
</script>

{#if day?.wanted}
  <section
    aria-label="The plan of the day"
    class="mt-7"
    data-testid="day"
    data-settled={day.settled}
  >
    <div class="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-1">
      <p class="text-lead" data-testid="late-says">
        <span class={day.late.length ? 'text-flame-text' : ''}><Say text={day.late_says} /></span>
        {#if day.not_planned}<span class="text-soft text-body"
            >What presses most is planned; {day.not_planned} more follow by their order.</span
          >{/if}
      </p>
      <p class="text-soft text-small" role="status" data-testid="replanned">
        {plan.looking ? 'looking for a better plan' : day.says}
      </p>
    </div>
    {#if day.days.length > 1 || day.on !== today}
      <p class="mt-1 flex flex-wrap gap-x-4" role="group" aria-label="Which day">
        {#each [...new Set([today, ...day.days])].sort().slice(0, 8) as on (on)}
          {#if on === day.on}<span class="font-medium">{dayName(on)}</span>
          {:else}<button type="button" class="quiet" onclick={() => show(on)}>{dayName(on)}</button
            >{/if}
        {/each}
      </p>
    {/if}
    <Mistakes mistakes={[...plan.mistakes, ...hands.mistakes]} />
    <div class="mt-3">
      <DayDrawing
        {day}
        now={pulse.now}
        onpin={(block, at, person) => void pin(block, at, person)}
      />
    </div>
    {#if here.length || left.length}
      <p
        class="text-soft mt-1 flex flex-wrap gap-x-4 text-small"
        role="group"
        aria-label="Who is gone home"
      >
        {#if here.length}<span>Gone home for today?</span>{/if}
        {#each here as one (one.id)}
          <button type="button" class="quiet" onclick={() => void leave(one, true)}
            ><Say text={one.name} /></button
          >
        {/each}
        {#each left as one (one.id)}
          <span
            ><Say text={one.name} /> went home{one.gone_at
              ? ` ${hour(new Date(one.gone_at))}`
              : ''},
            <button type="button" class="quiet" onclick={() => void leave(one, false)}
              >back at the bench</button
            ></span
          >
        {/each}
      </p>
    {/if}
    {#each day.missed as one (one.job_id + one.says)}
      <p class="text-flame-text mt-2" data-testid="missed-pin">
        <a class="quiet" href={`/job/${one.job_id}`}><Say text={one.name} /></a>
        {one.says}.
      </p>
    {/each}
    {#if day.late.length}
      <ul class="mt-4" aria-label="What comes late">
        {#each day.late as one (one.job_id)}
          <li class="mt-1">
            <a class="text-flame-text font-medium" href={`/job/${one.job_id}`}
              ><Say text={one.name} /></a
            >
            comes {minutes(one.late_min)} late, ready {dueWords(one.ready, clock.now)}{dueWords(
              one.ready,
              clock.now,
            ).includes(':')
              ? ''
              : ` ${hour(new Date(one.ready))}`}.
            {#if one.says}<span class="text-soft"><Say text={one.says} /></span>{/if}
          </li>
        {/each}
        {#if day.more_late}<li class="text-soft mt-1">and {day.more_late} more</li>{/if}
      </ul>
    {/if}
    {#if day.beside.length}
      <ul class="text-soft mt-3" aria-label="What is not planned">
        {#each day.beside.slice(0, MOST_BESIDE) as one (one.job_id)}
          <li>
            <a class="quiet" href={`/job/${one.job_id}`}><Say text={one.name} /></a>: {one.says}
          </li>
        {/each}
        {#if day.beside.length > MOST_BESIDE}<li>
            and {day.beside.length - MOST_BESIDE} more
          </li>{/if}
      </ul>
    {/if}
    {#if pulse.running.length}
      <ul class="mt-4 flex flex-wrap gap-x-8 gap-y-1" aria-label="What ends by itself">
        {#each pulse.running.slice(0, 8) as one (one.id)}
          <li>
            <span class="figure text-flame-text text-lead"
              >{countdown(new Date(one.ends_at), new Date(pulse.now))}</span
            >
            {one.says}: <a class="quiet" href={`/job/${one.job_id}`}><Say text={one.name} /></a>
          </li>
        {/each}
        {#if pulse.running.length > 8}<li class="text-soft">
            and {pulse.running.length - 8} more
          </li>{/if}
      </ul>
    {/if}
  </section>
{/if}
