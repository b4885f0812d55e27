<script lang="ts">
  import { length } from '$lib/length.svelte'

  /** A bar from its side, before, half-way and after, all at one scale. */
  export interface Side {
    title: string
    long: number
    thick: number
    /** What is thinned of it: from where to where, and how thick it is there [mm]. */
    parts: { from: number; to: number; thick: number }[]
  }
  let {
    sides,
    family,
    stale = false,
  }: { sides: Side[]; family: string; stale?: boolean } = $props()
  let room = $state(900)
  const LEFT = $derived(room < 560 ? 2 : 96)
  const longest = $derived(Math.max(1, ...sides.map((one) => one.long)))
  const perMm = $derived(
    Math.min(
      Math.max(room - LEFT - 70, 1) / longest,
      70 / Math.max(0.5, ...sides.map((one) => one.thick)),
    ),
  )
  /** The outline of a bar that lies on the rolls: thin parts come down from above and up from below alike. */
  function outline(one: Side): string {
    const up: string[] = []
    const down: string[] = []
    const spans: { from: number; to: number; thick: number }[] = []
    let at = 0
    for (const part of one.parts) {
      if (part.from > at) spans.push({ from: at, to: part.from, thick: one.thick })
      spans.push(part)
      at = part.to
    }
    if (at < one.long) spans.push({ from: at, to: one.long, thick: one.thick })
    for (const span of spans) {
      const a = span.from * perMm
      const b = span.to * perMm
      const top = ((one.thick - span.thick) / 2) * perMm
      const low = one.thick * perMm - top
      up.push(`L${a} ${top}L${b} ${top}`)
      down.unshift(`L${b} ${low}L${a} ${low}`)
    }
    return `M${up.join('').slice(1)}${down.join('')}Z`
  }
</script>

<div bind:clientWidth={room} class={[stale && 'stale', 'eased']}>
  {#each sides as one (one.title)}
    {@const high = one.thick * perMm}
    <svg
      width={room}
      height={high + 24}
      class="block"
      role="img"
      aria-label={`${one.title}: ${length(one.long, 1)} long`}
    >
      <g transform={`translate(${LEFT} ${room < 560 ? 18 : 8})`}>
        {#if room < 560}<text x="0" y="-5" class="small">{one.title}</text>
        {:else}<text x="-14" y={high / 2 + 5} class="title">{one.title}</text>{/if}
        <path d={outline(one)} fill={`var(--${family})`} class="metal" />
        {#each one.parts as part (part.from)}
          <line
            x1={part.from * perMm}
            x2={part.from * perMm}
            y1="-5"
            y2={high + 5}
            class="scribe"
          />
          <line x1={part.to * perMm} x2={part.to * perMm} y1="-5" y2={high + 5} class="scribe" />
        {/each}
        <text x={one.long * perMm + 8} y={high / 2 + 6} class="long">{length(one.long, 1)}</text>
      </g>
    </svg>
  {/each}
</div>

<style>
  .metal {
    stroke: var(--color-base-content);
    stroke-width: 1.3;
    stroke-linejoin: round;
  }
  .scribe {
    stroke: var(--color-primary);
    stroke-width: 1.6;
  }
  .title {
    font-size: 15px;
    font-weight: 500;
    text-anchor: end;
  }
  .small {
    font-size: 14px;
    fill: var(--soft);
  }
  .long {
    font-size: 17px;
    font-weight: 600;
    fill: var(--color-primary);
  }
</style>
