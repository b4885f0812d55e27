<script lang="ts">
  import { length, rulerUnits } from '$lib/length.svelte'
  import type { Schemas } from '$lib/api/client'
  import { taper } from '$lib/drawing/scale'

  let { fit, stale = false }: { fit: Schemas['GaugeFit']; stale?: boolean } = $props()
  let room = $state(1208)
  const TIMES = 5
  const MIDDLE = 84
  const HIGH = 92
  const marks = $derived([...fit.residuals].sort((a, b) => a.nominal_mm - b.nominal_mm))
  const ends = $derived([
    { diameter_mm: (marks[0]?.nominal_mm ?? 15) - 0.8 },
    { diameter_mm: (marks[marks.length - 1]?.nominal_mm ?? 20) + 0.8 },
  ])
  const drawing = $derived(taper(ends, room, HIGH))
  const first = $derived(ends[0]?.diameter_mm ?? 0)
  const last = $derived(ends[1]?.diameter_mm ?? 1)
  const outline = $derived(
    `${drawing.x(first)},${MIDDLE - drawing.half(first)} ${drawing.x(last)},${MIDDLE - drawing.half(last)} ${drawing.x(last)},${MIDDLE + drawing.half(last)} ${drawing.x(first)},${MIDDLE + drawing.half(first)}`,
  )
  const clamp = (x: number) => Math.min(Math.max(x, 6), room - 6)
  const signed = (mm: number) => `${mm < 0 ? '−' : '+'}${length(Math.abs(mm), 2, 4)}`
</script>

<figure bind:clientWidth={room} class={[stale && 'stale']}>
  <svg
    width={room}
    height="186"
    role="img"
    aria-label={`The gauge with ${marks.length} marks: ${marks.map((m) => `${m.mark} read ${length(m.read_mm)}, ${signed(m.mm)} from the fit${m.off ? ', off' : ''}`).join('; ')}`}
    data-testid="gauge-drawing"
  >
    <polygon points={outline} class="tool" />
    {#each marks as mark, i (i)}
      {@const at = drawing.x(mark.nominal_mm)}
      {@const top = MIDDLE - drawing.half(mark.nominal_mm)}
      {@const low = MIDDLE + drawing.half(mark.nominal_mm)}
      {@const perMm = (drawing.x(last) - drawing.x(first)) / (last - first)}
      {@const truly = clamp(at + (mark.read_mm - mark.nominal_mm) * perMm * TIMES)}
      <line x1={at} x2={at} y1={top} y2={top + 20} class="mark" />
      <text x={at} y={top - 9} text-anchor="middle" class={mark.off ? 'off' : 'label'}
        >{mark.mark}</text
      >
      <line x1={at} y1={top + 20} x2={truly} y2={low - 16} class={mark.off ? 'lead off' : 'lead'} />
      <line x1={truly} x2={truly} y1={low - 16} y2={low} class={mark.off ? 'true off' : 'true'} />
      <text x={truly} y={low + 20} text-anchor="middle" class={mark.off ? 'off' : 'read'}
        >{length(mark.read_mm)}</text
      >
      <text x={truly} y={low + 40} text-anchor="middle" class={mark.off ? 'off' : 'soft'}
        >{signed(mark.mm)}</text
      >
    {/each}
  </svg>
  <figcaption class="text-soft text-small">
    Above, where each mark says it is; below, where it truly is, the difference drawn {TIMES} times; under
    it, how far it lies from the fit, in {rulerUnits()}.
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
    stroke-width: 1.6;
  }
  .lead {
    stroke: var(--color-primary);
    stroke-dasharray: 4 3;
  }
  .true {
    stroke: var(--color-primary);
    stroke-width: 2.4;
  }
  .lead.off,
  .true.off {
    stroke: var(--flame);
  }
  text {
    font-size: var(--text-small);
  }
  .label {
    font-weight: 600;
    font-size: var(--text-body);
  }
  .read {
    fill: var(--color-primary);
    font-weight: 500;
  }
  .soft {
    fill: var(--soft);
  }
  text.off {
    fill: var(--flame-text);
    font-weight: 600;
  }
</style>
