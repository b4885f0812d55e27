<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import { router } from '$lib/router.svelte'
  import { dayWords } from '$lib/text'
  import { monthsOf, placesOf, reachOf, xsOf, yOf } from './misses'

  interface Props {
    dots: Schemas['DotOut'][]
    group: Schemas['LearntGroupOut']
    named: string
  }
  let { dots, group, named }: Props = $props()
  const HEIGHT = 190
  let wide = $state(0)
  const frame = $derived({
    width: Math.max(120, wide - 116),
    height: HEIGHT,
    reach: reachOf(
      dots.filter((dot) => !dot.aside),
      group.n >= 5 ? [group.low_mm, group.high_mm] : [],
    ),
  })
  const xs = $derived(xsOf(dots, frame))
  const y = (mm: number) => yOf(mm, frame)
  const known = $derived(group.n >= 5)
  const says = (dot: Schemas['DotOut']) =>
    `ring ${dot.number}, ${dayWords(dot.at.slice(0, 10))}: ${length(Math.abs(dot.z_mm))} ${dot.z_mm < 0 ? 'small' : 'large'}`
</script>

<figure bind:clientWidth={wide} class="misses">
  {#if wide}
    <svg
      width={wide}
      height={HEIGHT + 46}
      role="group"
      aria-label={`What ${dots.length} rings missed round, ${named}`}
    >
      <g transform="translate(108 8)">
        {#if known}
          <rect
            class="band"
            x="0"
            width={frame.width}
            y={y(group.high_mm)}
            height={Math.max(2, y(group.low_mm) - y(group.high_mm))}
          />
          <line class="mean" x1="0" x2={frame.width} y1={y(group.mean_mm)} y2={y(group.mean_mm)} />
        {/if}
        <line class="zero" x1="0" x2={frame.width} y1={y(0)} y2={y(0)} />
        {#if group.in_force_mm}
          <line
            class="force"
            x1="0"
            x2={frame.width}
            y1={y(group.in_force_mm)}
            y2={y(group.in_force_mm)}
          />
        {/if}
        <text class="side" x="-12" y={y(frame.reach) + 12}
          >{length(frame.reach, placesOf(frame.reach))} large</text
        >
        <text class="side" x="-12" y={y(0) + 5}>neutral line</text>
        <text class="side" x="-12" y={y(-frame.reach) + 2}
          >{length(frame.reach, placesOf(frame.reach))} small</text
        >
        {#each dots as dot, i (dot.job_id)}
          <a
            href={`/logbook/${dot.job_id}`}
            aria-label={says(dot)}
            onclick={(event) => {
              event.preventDefault()
              router.go(`/logbook/${dot.job_id}`)
            }}
          >
            <circle
              class={['dot', dot.aside && 'aside']}
              cx={xs[i]}
              cy={y(dot.z_mm)}
              r={dot.aside ? 6 : dots.length > 150 ? 3 : 5}><title>{says(dot)}</title></circle
            >
            {#if dot.aside}
              <text
                class="why"
                text-anchor={(xs[i] ?? 0) > frame.width - 90 ? 'end' : 'start'}
                x={(xs[i] ?? 0) + ((xs[i] ?? 0) > frame.width - 90 ? -11 : 11)}
                y={y(dot.z_mm) + 5}>{dot.number}, why?</text
              >
            {/if}
          </a>
        {/each}
        {#each monthsOf(dots, frame) as month (month.x)}
          <text class="month" x={month.x} y={HEIGHT + 30}>{month.text}</text>
        {/each}
      </g>
    </svg>
  {/if}
</figure>

<style>
  .misses {
    min-width: 0;
  }
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
  .dot.aside {
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
