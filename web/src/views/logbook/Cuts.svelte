<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import { monthsOf, placesOf, reachOf, xsOf, yOf } from './misses'

  let { cuts, sd }: { cuts: Schemas['CutOut'][]; sd: number } = $props()
  const HEIGHT = 110
  let wide = $state(0)
  const frame = $derived({ width: Math.max(120, wide - 84), height: HEIGHT, reach: reachOf(cuts) })
  const xs = $derived(xsOf(cuts, frame))
  const y = (mm: number) => yOf(mm, frame)
</script>

<figure bind:clientWidth={wide} class="min-w-0">
  {#if wide}
    <svg
      width={wide}
      height={HEIGHT + 40}
      role="img"
      aria-label={`My last ${cuts.length} cuts: two in three within ${length(sd)} of the line`}
    >
      <g transform="translate(76 8)">
        <rect x="0" width={frame.width} y={y(sd)} height={y(-sd) - y(sd)} class="band" />
        <line x1="0" x2={frame.width} y1={y(0)} y2={y(0)} class="zero" />
        <text x="-10" y={y(frame.reach) + 10}
          >{length(frame.reach, placesOf(frame.reach))} long</text
        >
        <text x="-10" y={y(0) + 5}>the line</text>
        <text x="-10" y={y(-frame.reach) + 2}
          >{length(frame.reach, placesOf(frame.reach))} short</text
        >
        {#each cuts as cut, i (i)}
          <circle cx={xs[i]} cy={y(cut.z_mm)} r="3.5" class="dot"
            ><title>{length(cut.z_mm)}</title></circle
          >
        {/each}
        {#each monthsOf(cuts, frame) as month (month.x)}
          <text x={month.x} y={HEIGHT + 26} class="month">{month.text}</text>
        {/each}
      </g>
    </svg>
  {/if}
</figure>

<style>
  svg {
    overflow: visible;
  }
  .band {
    fill: var(--wash);
  }
  .zero {
    stroke: var(--soft);
    stroke-width: 1.5;
  }
  .dot {
    fill: var(--hairline);
    stroke: var(--color-ink);
  }
  text {
    font-size: var(--text-small);
    fill: var(--soft);
    text-anchor: end;
  }
  .month {
    text-anchor: start;
  }
</style>
