<script lang="ts">
  import { labelled, length } from '$lib/length.svelte'
  import type { Schemas } from '$lib/api/client'
  import { section as draw } from '$lib/drawing/scale'

  interface Props {
    section: Schemas['Section']
    family: string
    words: string
    stale?: boolean
  }
  let { section, family, words, stale = false }: Props = $props()
  const BOX = { width: 190, height: 96 }
  const drawing = $derived(draw(section, BOX))
  const many = $derived(drawing.times >= 9.5 ? Math.round(drawing.times) : drawing.times.toFixed(1))
</script>

<figure class={[stale && 'stale', 'eased']}>
  <svg
    viewBox="-20 -6 264 108"
    width="264"
    height="108"
    class="max-w-full"
    role="img"
    aria-label={`Section of the stock with its neutral line ${labelled(section.neutral_mm)} above the inside.`}
  >
    <path d={drawing.path} fill={`var(--${family})`} class="metal" />
    <line
      x1={drawing.left - 16}
      x2={drawing.right + 10}
      y1={drawing.neutralY}
      y2={drawing.neutralY}
      class="neutral"
    />
    <text x={drawing.right + 14} y={drawing.neutralY + 5} class="told"
      >{length(section.neutral_mm)}</text
    >
  </svg>
  <figcaption class="text-soft text-small leading-snug">
    {words}, {many} times; finger below, neutral line at {length(section.neutral_mm)}
  </figcaption>
</figure>

<style>
  .metal {
    stroke: var(--color-base-content);
    stroke-width: 1.5;
    stroke-linejoin: round;
  }
  .neutral {
    stroke: var(--color-primary);
    stroke-width: 1.6;
    stroke-dasharray: 8 4;
  }
  .told {
    fill: var(--color-primary);
    font-size: var(--text-small);
    font-weight: 500;
  }
</style>
