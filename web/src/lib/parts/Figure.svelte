<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { pathData, shapeData } from '$lib/drawing/paths'

  interface Props {
    drawing: Schemas['Drawing']
    family: string
    label: string
    width: number
    height: number
    /** Dots a millimetre for true size; otherwise it is fitted into the room. */
    perMm?: number | undefined
    stale?: boolean
    /** Whether the words of the drawing are written at their places. */
    words?: boolean
  }
  let {
    drawing,
    family,
    label,
    width,
    height,
    perMm,
    stale = false,
    words = false,
  }: Props = $props()
  const [left, bottom, right, top] = $derived(drawing.box as [number, number, number, number])
  const scale = $derived(
    perMm ?? Math.min((width - 6) / (right - left), (height - 6) / (top - bottom)),
  )
  const wide = $derived((right - left) * scale + 6)
  const high = $derived((top - bottom) * scale + 6)
  const tone = (name: string) =>
    name === 'stone'
      ? 'var(--wash)'
      : name === 'change'
        ? 'var(--color-primary)'
        : name === 'second'
          ? `color-mix(in srgb, var(--${family}) 72%, var(--color-base-content))`
          : `var(--${family})`
</script>

<svg
  width={wide}
  height={high}
  viewBox={`0 0 ${wide} ${high}`}
  class={[stale && 'stale', 'eased']}
  role="img"
  aria-label={label}
  data-testid="figure-drawing"
  data-per-mm={scale}
>
  <g transform={`translate(${3 - left * scale} ${3 + top * scale}) scale(${scale})`}>
    {#each drawing.shapes as shape (shape.key)}
      <path d={shapeData(shape)} fill={tone(shape.tone)} fill-rule="evenodd" class="edge" />
    {/each}
    {#each drawing.lines as line (line.key)}
      <path d={pathData(line.path, false)} class="line" />
    {/each}
  </g>
  {#if words}
    {#each drawing.labels as one (one.text)}
      <text x={3 + (one.x_mm - left) * scale} y={3 + (top - one.y_mm) * scale} class="said"
        >{one.text}</text
      >
    {/each}
  {/if}
</svg>

<style>
  .edge {
    stroke: var(--color-base-content);
    stroke-width: 1.2;
    vector-effect: non-scaling-stroke;
    stroke-linejoin: round;
  }
  .said {
    font-size: 14px;
    fill: var(--soft);
    text-anchor: middle;
  }
  .line {
    stroke: var(--color-primary);
    stroke-width: 1.6;
    fill: none;
    vector-effect: non-scaling-stroke;
  }
</style>
