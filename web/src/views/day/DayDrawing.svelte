<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { router } from '$lib/router.svelte'
  import { clock as hour } from '$lib/text'
  import { hours, lanes, moved, named, runs, span } from './hours'

  /** The day along its hours: a row for each person, pots and tumblers as lines, the torch as a frame. */
  interface Props {
    day: Schemas['DayOut']
    /** The clock of the server, in ms. */
    ahead: number
    onpin: (block: Block, at: Date | null, personId: number | null) => void
  }
  type Block = Schemas['Block']
  let { day, ahead, onpin }: Props = $props()
  let room = $state(1200)
  const NARROW = 760
  const ROW = 88
  const BAR = 22
  const VESSEL = 18
  const REST_MS = 900
  const left = $derived(room < NARROW ? 86 : 128)
  const width = $derived(Math.max(room, NARROW))
  const time = (text: string) => new Date(text).getTime()
  const now = $derived(clock.now.getTime() + ahead)
  const blocks = $derived(
    day.blocks.filter((one) => day.people.some((person) => person.id === one.person_id)),
  )
  const whole = $derived(
    span(
      [
        ...day.people.flatMap((one) =>
          one.hours.flatMap((span) => [time(span.begins), time(span.ends)]),
        ),
        ...blocks.flatMap((one) => [time(one.begins), time(one.ends)]),
        ...day.done.map((one) => time(one.at)),
      ],
      time(day.now),
    ),
  )
  const x = (at: number) =>
    left + ((at - whole.begins) / (whole.ends - whole.begins)) * (width - left - 16)
  const inside = (at: number) => Math.min(Math.max(at, whole.begins), whole.ends)
  const short = (name: string) => name.split(',')[0] ?? name
  const tone = (family: string) => `var(--${family})`

  let pending = $state.raw<{ block: Block; at: number; person: number } | null>(null)
  let timer: ReturnType<typeof setTimeout> | undefined
  let drag: { block: Block; x: number; at: number } | null = null
  const id = (one: Block) => `${one.job_id} ${one.key}`
  const shownAt = (one: Block) =>
    pending && id(pending.block) === id(one) ? pending.at : time(one.begins)
  const shownBy = (one: Block) =>
    pending && id(pending.block) === id(one) ? pending.person : one.person_id
  const canMove = (one: Block) => !one.begun

  function settle() {
    clearTimeout(timer)
    if (!pending) return
    const { block, at, person } = pending
    onpin(block, new Date(Math.max(at, now + 1000)), person)
    pending = null
  }
  function keyed(event: KeyboardEvent, block: Block) {
    const by = { ArrowLeft: -5, ArrowRight: 5 }[event.key]
    const row = { ArrowUp: -1, ArrowDown: 1 }[event.key]
    if (event.key === 'Enter') return router.go(`/job/${block.job_id}`)
    if (event.key === 'Escape' && pending) {
      clearTimeout(timer)
      pending = null
      return
    }
    if ((event.key === 'Delete' || event.key === 'Backspace') && block.pinned) {
      event.preventDefault()
      return onpin(block, null, null)
    }
    if ((!by && !row) || !canMove(block)) return
    event.preventDefault()
    const people = day.people.map((one) => one.id)
    const person = people[people.indexOf(shownBy(block)) + (row ?? 0)] ?? shownBy(block)
    const at = by ? moved(shownAt(block), event.shiftKey ? by * 6 : by) : shownAt(block)
    pending = { block, at: Math.max(at, now), person }
    clearTimeout(timer)
    timer = setTimeout(settle, REST_MS)
  }
  function grabbed(event: PointerEvent, block: Block) {
    if (!canMove(block) || event.button) return
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    drag = { block, x: event.clientX, at: time(block.begins) }
  }
  function dragging(event: PointerEvent) {
    if (!drag) return
    const by =
      ((event.clientX - drag.x) / (width - left - 16)) * ((whole.ends - whole.begins) / 60_000)
    if (Math.abs(event.clientX - drag.x) < 4 && !pending) return
    const svg = (event.currentTarget as Element).closest('svg')?.getBoundingClientRect()
    const row = svg ? Math.floor((event.clientY - svg.top - 34) / ROW) : -1
    const person = day.people[row]?.id ?? drag.block.person_id
    pending = { block: drag.block, at: Math.max(moved(drag.at, by), now), person }
  }
  function dropped() {
    if (drag && !pending) router.go(`/job/${drag.block.job_id}`)
    drag = null
    settle()
  }
  const says = (one: Block) =>
    `${hour(new Date(shownAt(one)))} ${one.name}: ${one.title}${one.pinned ? ', put there' : ''}${one.late ? ', comes late' : ''}`

  const runsOf = (person: number) =>
    runs(
      blocks
        .filter((one) => shownBy(one) === person)
        .map((one) => {
          const begins = shownAt(one)
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
  /** A name at the right edge stands before its place. */
  const LETTER = 7.2
  const turned = (at: number, text: string) => at + text.length * LETTER > width - 4
  const vessels = $derived(
    day.vessels.map((one) => ({
      ...one,
      rings: lanes(
        one.rings.map((ring) => {
          const until = time(ring.ends)
          const begins = inside(time(ring.begins))
          const out = until > whole.ends ? `, out at ${hour(new Date(until))}` : ''
          const text = `${short(ring.name)}${out}`
          const room =
            ((text.length * LETTER + 16) / (width - left - 16)) * (whole.ends - whole.begins)
          const end = inside(until)
          const before = turned(x(end) + 6, text)
          return {
            family: ring.family,
            text,
            before,
            from: begins,
            to: end,
            begins: before ? begins - room : begins,
            ends: before ? end : end + room,
          }
        }),
      ),
    })),
  )
  const depth = (one: (typeof vessels)[number]) =>
    Math.max(2, ...one.rings.map((ring) => ring.lane + 1)) * VESSEL + 14
  const tops = $derived(
    vessels.map((_, nth) =>
      vessels.slice(0, nth).reduce((sum, one) => sum + depth(one), 34 + day.people.length * ROW),
    ),
  )
  const base = $derived(
    34 + day.people.length * ROW + vessels.reduce((sum, one) => sum + depth(one), 0),
  )
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
  const height = $derived(base + (promised.length ? 44 : 0) + 24)
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
      <text x="0" y={y + 16} class="who">{person.name}</text>
      {#each person.hours.slice(0, -1) as span, gap (span.begins)}
        {@const next = person.hours[gap + 1]}
        {#if next}
          <rect
            x={x(time(span.ends))}
            y={y + 4}
            width={Math.max(0, x(time(next.begins)) - x(time(span.ends)))}
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
          x={turned(one.x, one.text) ? width - 4 : one.x}
          y={y - 13}
          text-anchor={turned(one.x, one.text) ? 'end' : 'start'}
          class="flame">{one.text}</text
        >
      {/each}
      {#each blocks.filter((one) => shownBy(one) === person.id) as one (id(one))}
        {@const begins = shownAt(one)}
        {@const ends = begins + time(one.ends) - time(one.begins)}
        {#if one.waits_until && time(one.waits_until) > time(one.ends)}
          <line
            x1={x(inside(ends))}
            x2={x(inside(ends + time(one.waits_until) - time(one.ends)))}
            y1={y + BAR + 4}
            y2={y + BAR + 4}
            stroke={tone(one.family)}
            class="wait"
          />
        {/if}
        <rect
          x={x(inside(begins))}
          {y}
          width={Math.max(3, x(inside(ends)) - x(inside(begins)) - 1)}
          height={BAR}
          fill={tone(one.family)}
          class={['block-of', one.pinned && 'pinned', one.begun && 'begun']}
          role="button"
          tabindex="0"
          aria-label={says(one)}
          data-job={one.job_id}
          data-key={one.key}
          data-pinned={one.pinned}
          onkeydown={(event) => keyed(event, one)}
          onpointerdown={(event) => grabbed(event, one)}
          onpointermove={dragging}
          onpointerup={dropped}
        >
          <title>{says(one)}</title>
        </rect>
      {/each}
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
    {#each vessels as one, nth (one.name)}
      {@const y = tops[nth] ?? 0}
      <text x="0" y={y + 20} class="who">{one.name}, {one.holds}</text>
      {#each one.rings as ring, at (at)}
        {@const line = y + 14 + ring.lane * VESSEL}
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
        x={turned(one.x + 5, one.text) ? one.x - 5 : one.x + 5}
        y={base + 13 + one.line * 16}
        text-anchor={turned(one.x + 5, one.text) ? 'end' : 'start'}
        class="blue">{one.text}</text
      >
    {/each}
    {#if isNow}
      <line x1={x(now)} x2={x(now)} y1="20" y2={base + 2} class="now" />
      <text x={x(now)} y={height - 4} text-anchor="middle" class="blue now-word">now</text>
    {/if}
  </svg>
</div>

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
