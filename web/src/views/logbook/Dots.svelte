<script lang="ts">
  import { length } from '$lib/length.svelte'
  import { router } from '$lib/router.svelte'
  import { monthsOf, placesOf, reachOf, xsOf, yOf, type Miss } from './misses'

  export interface Dot extends Miss {
    says: string
    /** Where it leads, and its name where it stands apart from the others. */
    href?: string
    apart?: string
  }
  interface Props {
    dots: Dot[]
    label: string
    /** What lies above, on and below the line. */
    words: [string, string, string]
    band?: [number, number] | null
    mean?: number | null
    dashed?: number
    height?: number
  }
  let { dots, label, words, band = null, mean = null, dashed = 0, height = 190 }: Props = $props()
  const MARGIN = 108
  let wide = $state(0)
  const frame = $derived({
    width: Math.max(120, wide - MARGIN - 8),
    height,
    reach: reachOf(
      dots.filter((dot) => !dot.apart),
      band ?? [],
    ),
  })
  const xs = $derived(xsOf(dots, frame))
  const y = (mm: number) => yOf(mm, frame)
  const end = $derived(length(frame.reach, placesOf(frame.reach)))
  const radius = $derived(dots.length > 150 ? 3 : 5)
</script>

<figure bind:clientWidth={wide} class="min-w-0">
  {#if wide}
    <svg width={wide} height={height + 46} role="group" aria-label={label}>
      <g transform={`translate(${MARGIN} 8)`}>
        {#if band}
          <rect
            class="band"
            x="0"
            width={frame.width}
            y={y(band[1])}
            height={Math.max(2, y(band[0]) - y(band[1]))}
          />
        {/if}
        {#if mean !== null}
          <line class="mean" x1="0" x2={frame.width} y1={y(mean)} y2={y(mean)} />
        {/if}
        <line class="zero" x1="0" x2={frame.width} y1={y(0)} y2={y(0)} />
        {#if dashed}
          <line class="force" x1="0" x2={frame.width} y1={y(dashed)} y2={y(dashed)} />
        {/if}
        <text class="side" x="-12" y={y(frame.reach) + 12}>{end} {words[0]}</text>
        <text class="side" x="-12" y={y(0) + 5}>{words[1]}</text>
        <text class="side" x="-12" y={y(-frame.reach) + 2}>{end} {words[2]}</text>
        {#each dots as dot, i (i)}
          {#if dot.href}
            {@const left = (xs[i] ?? 0) > frame.width - 90}
            <a
              href={dot.href}
              aria-label={dot.says}
              onclick={(event) => {
                event.preventDefault()
                router.go(dot.href ?? '')
              }}
            >
              <circle
                class={['dot', dot.apart && 'apart']}
                cx={xs[i]}
                cy={y(dot.z_mm)}
                r={dot.apart ? 6 : radius}><title>{dot.says}</title></circle
              >
              {#if dot.apart}
                <text
                  class="why"
                  text-anchor={left ? 'end' : 'start'}
                  x={(xs[i] ?? 0) + (left ? -11 : 11)}
                  y={y(dot.z_mm) + 5}>{dot.apart}</text
                >
              {/if}
            </a>
          {:else}
            <circle class="dot" cx={xs[i]} cy={y(dot.z_mm)} r={radius}
              ><title>{dot.says}</title></circle
            >
          {/if}
        {/each}
        {#each monthsOf(dots, frame) as month (month.x)}
          <text class="month" x={month.x} y={height + 30}>{month.text}</text>
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
  .mean {
    stroke: var(--color-blue);
    stroke-width: 2;
  }
  .force {
    stroke: var(--color-blue);
    stroke-width: 1;
    stroke-dasharray: 5 4;
  }
  .zero {
    stroke: var(--soft);
    stroke-width: 1.5;
  }
  .dot {
    fill: var(--hairline);
    stroke: var(--color-ink);
    stroke-width: 1.2;
  }
  .dot.apart {
    fill: var(--color-base-100);
    stroke: var(--flame-text);
    stroke-width: 2.2;
  }
  a:focus-visible .dot,
  a:hover .dot {
    fill: var(--color-blue);
  }
  a:focus-visible {
    outline: none;
  }
  text {
    font-size: var(--text-small);
  }
  .side {
    fill: var(--soft);
    text-anchor: end;
  }
  .month {
    fill: var(--soft);
  }
  .why {
    fill: var(--flame-text);
    font-weight: 500;
  }
</style>
