<script lang="ts">
  import type { RingPlan } from '$lib/api/client'
  import { taper as draw } from '$lib/drawing/scale'

  let { plan, stale = false }: { plan: RingPlan; stale?: boolean } = $props()
  const WIDTH = 364
  const HEIGHT = 84
  const MIDDLE = 72
  const drawing = $derived(draw(plan.taper.marks, WIDTH, HEIGHT))
  const first = $derived(plan.taper.marks[0]?.diameter_mm ?? 0)
  const last = $derived(plan.taper.marks[plan.taper.marks.length - 1]?.diameter_mm ?? 1)
  const within = (mm: number) => Math.min(Math.max(mm, first), last)
  // a size beside the scale's own marks is drawn at their end: beyond it there is no mandrel
  const wanted = $derived(within(plan.wanted_mm))
  const low = $derived(drawing.x(within(plan.closing.low_mm)))
  const high = $derived(drawing.x(within(plan.closing.high_mm)))
  const outline = $derived(
    [
      `${drawing.x(first) - 22},${MIDDLE - drawing.half(first)}`,
      `${drawing.x(last) + 22},${MIDDLE - drawing.half(last)}`,
      `${drawing.x(last) + 22},${MIDDLE + drawing.half(last)}`,
      `${drawing.x(first) - 22},${MIDDLE + drawing.half(first)}`,
    ].join(' '),
  )
</script>

<figure class={[stale && 'stale', 'eased']}>
  <svg
    viewBox={`0 0 ${WIDTH} 122`}
    class="w-full"
    role="img"
    aria-label={`Mandrel: wanted ${plan.wanted_text}, closes at ${plan.closing.text}, four in five between ${plan.closing.low_text} and ${plan.closing.high_text}.`}
  >
    <polygon points={outline} class="tool" />
    {#each plan.taper.marks as mark (mark.diameter_mm)}
      {@const x = drawing.x(mark.diameter_mm)}
      {@const top = MIDDLE - drawing.half(mark.diameter_mm)}
      <line x1={x} x2={x} y1={top} y2={top + (mark.label ? 22 : 12)} class="mark" />
      {#if mark.label}<text {x} y={top - 8} text-anchor="middle">{mark.label}</text>{/if}
    {/each}
    <rect
      x={low}
      width={Math.max(high - low, 3)}
      y={MIDDLE - drawing.half(wanted) + 26}
      height={Math.max(drawing.half(wanted) * 2 - 32, 3)}
      class="range"
    />
    <line
      x1={drawing.x(wanted)}
      x2={drawing.x(wanted)}
      y1={MIDDLE - drawing.half(wanted) - 2}
      y2={MIDDLE + drawing.half(wanted) + 4}
      class="wanted"
    />
  </svg>
  <figcaption class="text-small">
    <span class="text-blue font-medium">wanted</span>, and where it closes; {plan.taper
      .title}{plan.gauge ? `, calibrated ${plan.gauge.calibrated_on}` : ''}
  </figcaption>
</figure>

<style>
  .tool {
    fill: var(--tool);
    stroke: var(--color-base-content);
    stroke-width: 1.4;
  }
  .mark {
    stroke: var(--color-base-content);
    stroke-width: 1.2;
  }
  .range {
    fill: var(--color-primary);
    opacity: 0.3;
  }
  .wanted {
    stroke: var(--color-primary);
    stroke-width: 3;
  }
  text {
    font-size: var(--text-small);
    font-weight: 500;
  }
</style>
