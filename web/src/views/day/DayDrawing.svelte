<script lang="ts">
  import { untrack } from 'svelte'

  import type { Schemas } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'
  import { clock as hour, minutes } from '$lib/text'
  import { hours, named, runs, span } from './hours'
  import { idOf, Moving } from './moving.svelte'
  import { inVessels, LANE, short, turned } from './vessels'

  /** The day along its hours: a row for each person, pots and tumblers as lines, the torch as a frame. */
  interface Props {
    day: Schemas['DayOut']
    /** The clock of the server, in ms. */
    now: number
    onpin: (block: Block, at: Date | null, personId: number | null) => void
  }
  type Block = Schemas['Block']
  let { day, now, onpin }: Props = $props()
  let room = $state(1200)
  const NARROW = 760
  const ROW = 88
  const BAR = 22
  const left = $derived(room < NARROW ? 86 : 128)
  const width = $derived(Math.max(room, NARROW))
  const time = (text: string) => new Date(text).getTime()
  const blocks = $derived(
    day.blocks.filter((one) => day.people.some((person) => person.id === one.person_id)),
  )
  const whole = $derived(
    span(
      [
        ...day.people.flatMap((one) => one.hours.flatMap((hours) => toCome(hours))),
        ...blocks.flatMap((one) => [time(one.begins), time(one.ends)]),
        ...day.done.map((one) => time(one.at) - (one.minutes ?? 0) * 60_000),
      ],
      time(day.now),
    ),
  )
  /** Of today what has passed is drawn as far as something was done. */
  const toCome = ({ begins, ends }: { begins: string; ends: string }) =>
    time(ends) <= time(day.now) ? [] : [Math.max(time(begins), time(day.now)), time(ends)]
  const x = (at: number) =>
    left + ((at - whole.begins) / (whole.ends - whole.begins)) * (width - left - 16)
  const inside = (at: number) => Math.min(Math.max(at, whole.begins), whole.ends)
  const tone = (family: string) => `var(--${family})`

  const moving = untrack(
    () =>
      new Moving(
        () => ({
          people: day.people.map((one) => one.id),
          now,
          perPx: (whole.ends - whole.begins) / (width - left - 16),
          top: 34,
          row: ROW,
        }),
        () => blocks,
        (block, at, person) => onpin(block, at === null ? null : new Date(at), person),
      ),
  )
  const chosenId = (person: number) => {
    const block = moving.of(person)
    return block ? idOf(block) : ''
  }
  let looked = $state('')
  const shown = $derived(blocks.find((one) => idOf(one) === looked))
  $effect(() => {
    const chosen = Object.values(moving.chosen).at(-1)
    if (chosen) looked = chosen
  })
  const says = (one: Block) =>
    `${hour(new Date(moving.at(one)))} ${one.name}: ${one.title}${one.pinned ? ', put there' : ''}${one.late ? ', comes late' : ''}`

  const runsOf = (person: number) =>
    runs(
      blocks
        .filter((one) => moving.by(one) === person)
        .map((one) => {
          const begins = moving.at(one)
          const ends = begins + time(one.ends) - time(one.begins)
          return { begins, ends, job: one.job_id, name: one.name, late: one.late }
        }),
    ).map((run) => ({
      begins: run[0]?.begins ?? 0,
      ends: run.at(-1)?.ends ?? 0,
      name: run[0]?.name ?? '',
      late: run.some((one) => one.late),
    }))
  const names = (person: number) =>
    named(
      runsOf(person).map((one) => ({ x: x(one.begins), text: short(one.name), late: one.late })),
      2,
    )
  const torches = (person: number) =>
    day.sessions
      .filter((one) => one.person_id === person)
      .map((one) => ({
        begins: x(inside(time(one.begins))),
        ends: x(inside(time(one.ends))),
        jobs: one.jobs,
      }))
  const torchNames = (person: number) =>
    named(
      torches(person).map((one) => ({
        x: one.begins,
        text: one.jobs.length > 1 ? `one torch: ${one.jobs.map(short).join(', ')}` : 'torch',
      })),
      1,
    )
  const scale = $derived({
    whole,
    x,
    perMs: (width - left - 16) / (whole.ends - whole.begins),
    width,
  })
  const vessels = $derived(inVessels(day.vessels, scale, 34 + day.people.length * ROW))
  const base = $derived(vessels.bottom)
  const promised = $derived(
    named(
      day.promises
        .filter((one) => time(one.due) >= whole.begins && time(one.due) <= whole.ends)
        .map((one) => ({
          x: x(time(one.due)),
          text: `${short(one.name)} promised ${hour(new Date(one.due))}`,
        })),
      2,
    ),
  )
  /** The word "now" stands under its line, or under a promise that stands there. */
  const nowUnder = $derived(
    promised.some((one) => one.x < x(now) + 24 && one.x + one.text.length * 7.2 + 12 > x(now) - 24)
      ? Math.max(...promised.map((one) => one.line + 1)) * 16
      : 0,
  )
  const height = $derived(base + 24 + Math.max(nowUnder, ...promised.map((one) => one.line * 16)))
  const isNow = $derived(now >= whole.begins && now <= whole.ends)
</script>

<div
  class="overflow-x-auto"
  role="region"
  aria-label="The day along its hours"
  bind:clientWidth={room}
>
  <svg {width} {height} viewBox={`0 0 ${width} ${height}`} class="block" data-testid="day-drawing">
    {#each hours(whole, width - left) as at (at)}
      <line x1={x(at)} x2={x(at)} y1="26" y2={base} class="hour" />
      <text x={x(at)} y="16" text-anchor={x(at) > width - 30 ? 'end' : 'middle'} class="soft"
        >{hour(new Date(at))}</text
      >
    {/each}
    {#each day.people as person, nth (person.id)}
      {@const y = 34 + nth * ROW + 26}
      <text x="0" y={y + 16} class="who"
        >{room < NARROW ? person.name.split(' ')[0] : person.name}</text
      >
      {#each person.hours.slice(0, -1) as span, gap (span.begins)}
        {@const next = person.hours[gap + 1]}
        {#if next && time(next.begins) > whole.begins}
          <rect
            x={x(inside(time(span.ends)))}
            y={y + 4}
            width={x(inside(time(next.begins))) - x(inside(time(span.ends)))}
            height={BAR - 8}
            class="rest"
          />
        {/if}
      {/each}
      {#each day.done.filter((one) => one.person_id === person.id) as one, at (at)}
        {@const ends = x(inside(time(one.at)))}
        {@const wide = one.minutes
          ? Math.max(2, ends - x(inside(time(one.at) - one.minutes * 60_000)))
          : 2}
        <rect x={ends - wide} {y} width={wide} height={BAR} fill={tone(one.family)} class="done">
          <title>{hour(new Date(one.at))} {one.name}, done</title>
        </rect>
      {/each}
      {#each torches(person.id) as one (one.begins)}
        <rect
          x={one.begins}
          y={y - 8}
          width={Math.max(6, one.ends - one.begins + 4)}
          height={BAR + 16}
          class="torch"
        />
      {/each}
      {#each torchNames(person.id) as one (one.x)}
        <text
          x={turned(scale, one.x, one.text) ? width - 4 : one.x}
          y={y - 13}
          text-anchor={turned(scale, one.x, one.text) ? 'end' : 'start'}
          class="flame">{one.text}</text
        >
      {/each}
      {#if moving.row(person.id).length}
        <g
          role="listbox"
          tabindex="0"
          aria-label={`The steps of ${person.name}`}
          aria-activedescendant={chosenId(person.id) || undefined}
          onkeydown={(event) => moving.keyed(event, person.id)}
          onfocus={() => (looked = chosenId(person.id))}
        >
          {#each moving.row(person.id) as one (idOf(one))}
            {@const begins = moving.at(one)}
            {@const ends = begins + time(one.ends) - time(one.begins)}
            {@const wait = one.waits_until ? time(one.waits_until) - time(one.ends) : 0}
            {#if wait > 0}
              <line
                x1={x(inside(ends))}
                x2={x(inside(ends + wait))}
                y1={y + BAR + 4}
                y2={y + BAR + 4}
                stroke={tone(one.family)}
                class="wait"
              />
            {/if}
            <rect
              id={idOf(one)}
              x={x(inside(begins))}
              {y}
              width={Math.max(3, x(inside(ends)) - x(inside(begins)) - 1)}
              height={BAR}
              fill={tone(one.family)}
              class={[
                'block-of',
                one.pinned && 'pinned',
                one.begun && 'begun',
                moving.of(person.id) === one && 'chosen',
              ]}
              role="option"
              tabindex="-1"
              aria-selected={moving.of(person.id) === one}
              aria-label={says(one)}
              data-job={one.job_id}
              data-key={one.key}
              data-pinned={one.pinned}
              onpointerenter={() => (looked = idOf(one))}
              onpointerdown={(event) => moving.grabbed(event, one)}
              onpointermove={(event) => moving.dragging(event)}
              onpointerup={() => moving.dropped()}
            >
              <title>{says(one)}</title>
            </rect>
          {/each}
        </g>
      {/if}
      {#each runsOf(person.id) as one (one.begins)}
        <rect
          x={x(inside(one.begins))}
          {y}
          width={Math.max(3, x(inside(one.ends)) - x(inside(one.begins)) - 1)}
          height={BAR}
          class={['run', one.late && 'late']}
        />
      {/each}
      {#each names(person.id) as one (one.x)}
        <text x={one.x} y={y + BAR + 19 + one.line * 15} class={['small', one.late && 'flame']}
          >{one.text}</text
        >
      {/each}
    {/each}
    {#each vessels.rows as one (one.name)}
      <text x="0" y={one.y + 20} class="who">{one.name}, {one.holds}</text>
      {#each one.rings as ring, at (at)}
        {@const line = one.y + 14 + ring.lane * LANE}
        <line
          x1={x(ring.from)}
          x2={Math.max(x(ring.to), x(ring.from) + 3)}
          y1={line}
          y2={line}
          stroke={tone(ring.family)}
          class="soaks"
        />
        <text
          x={ring.before ? x(ring.from) - 6 : x(ring.to) + 6}
          y={line + 4}
          text-anchor={ring.before ? 'end' : 'start'}
          class="small">{ring.text}</text
        >
      {/each}
    {/each}
    {#each promised as one (one.x + one.text)}
      <line x1={one.x} x2={one.x} y1={base + 2} y2={base + 12} class="tick" />
      <text
        x={turned(scale, one.x + 5, one.text) ? one.x - 5 : one.x + 5}
        y={base + 13 + one.line * 16}
        text-anchor={turned(scale, one.x + 5, one.text) ? 'end' : 'start'}
        class="blue">{one.text}</text
      >
    {/each}
    {#if isNow}
      <line x1={x(now)} x2={x(now)} y1="20" y2={base + 2} class="now" />
      <text x={x(now)} y={base + 18 + nowUnder} text-anchor="middle" class="blue now-word">now</text
      >
    {/if}
  </svg>
</div>
<p class="mt-1 min-h-[1.5em]" data-testid="looked">
  {#if shown}<Say text={says(shown)} />, {minutes(
      (time(shown.ends) - time(shown.begins)) / 60_000,
    )}{:else}<span class="text-soft text-small"
      >A step is moved with the mouse, or with the arrow keys of its row, and stays where it is put;
      Delete lets it go.</span
    >{/if}
</p>

<style>
  text {
    font-size: 15px;
  }
  .who {
    font-size: 17px;
    font-weight: 500;
  }
  .soft {
    fill: var(--soft);
  }
  .small {
    font-size: 15px;
  }
  .flame {
    fill: var(--flame-text);
  }
  .blue {
    fill: var(--color-primary);
  }
  .now-word {
    font-weight: 500;
  }
  .hour {
    stroke: var(--hairline);
    stroke-width: 1;
  }
  .rest {
    fill: none;
    stroke: var(--hairline);
    stroke-width: 1;
    stroke-dasharray: 3 4;
  }
  .done {
    opacity: 0.45;
  }
  .torch {
    fill: none;
    stroke: var(--flame);
    stroke-width: 2;
  }
  .run {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1;
    pointer-events: none;
  }
  .run.late {
    stroke: var(--flame);
    stroke-width: 2.5;
  }
  .block-of {
    stroke: var(--color-base-content);
    stroke-width: 0.35;
    cursor: grab;
    touch-action: pan-x;
  }
  .block-of.begun {
    cursor: pointer;
    stroke-width: 2.5;
  }
  g:focus-visible .block-of.chosen {
    stroke: var(--color-primary);
    stroke-width: 4;
  }
  .block-of.pinned {
    stroke: var(--color-primary);
    stroke-width: 2.5;
  }
  .wait {
    stroke-width: 3;
  }
  .soaks {
    stroke-width: 5;
  }
  .tick,
  .now {
    stroke: var(--color-primary);
    stroke-width: 2;
  }
</style>
