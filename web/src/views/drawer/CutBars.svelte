<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { length } from '$lib/length.svelte'
  import { dueWords } from '$lib/text'
  import { bars, fitting } from './bars'

  let { made, stale = false }: { made: Schemas['ProposedOut']; stale?: boolean } = $props()
  let room = $state(1200)
  const LEFT = $derived(room < 620 ? 4 : 122)
  const HIGH = 46
  const drawn = $derived(bars(made, Math.max(120, room - LEFT - (room < 620 ? 8 : 40))))
  const named = $derived(new Map(made.blanks.map((one) => [one.key, one])))
  const family = $derived(made.group.family)
  const whose = (key: string) => named.get(key)?.job_name ?? ''
  const under = (key: string) => {
    const one = named.get(key)
    return one ? `${dueWords(one.due, clock.now)}, ${one.length_text}` : ''
  }
</script>

<div bind:clientWidth={room} class={[stale && 'stale', 'eased']} data-testid="cut-bars">
  {#each drawn as bar (bar.key)}
    <svg
      width={room}
      height={room < 620 ? 124 : 88}
      role="img"
      aria-label={`${bar.title}, ${length(bar.length, 1)} long: ${bar.blanks
        .map((one) => `${whose(one.key)} to ${one.mark}`)
        .join(', ')}. ${bar.rest}`}
      class="block"
    >
      <g transform={`translate(${LEFT} ${room < 620 ? 26 : 10})`}>
        {#if room < 620}
          <text x="0" y="-10" class="name">{bar.title} {length(bar.length, 1)}</text>
        {:else}
          <text x="-14" y="20" class="name end">{bar.title}</text>
          <text x="-14" y="39" class="small end"
            >{`${bar.torn ? 'of ' : ''}${length(bar.length, 1)}`}</text
          >
        {/if}
        <path
          d={bar.torn ? `M0 0H${bar.endX}l-5 12l6 11l-6 11l5 12H0Z` : `M0 0H${bar.endX}V${HIGH}H0Z`}
          fill={`var(--${family})`}
          class="metal"
        />
        {#each bar.blanks as one (one.x)}
          <rect x={one.x} y="0" width={one.width} height={HIGH} class="blank" />
          {#if one.width > 42}
            <text x={one.x + 8} y="19" class="name">{fitting(whose(one.key), one.width, 8)}</text>
            <text x={one.x + 8} y="38" class="small">{fitting(under(one.key), one.width, 7)}</text>
          {/if}
          <line x1={one.markX} x2={one.markX} y1="-7" y2={HIGH + 8} class="scribe" />
          <text x={one.markX} y={HIGH + 24} class="mark">{one.mark}</text>
        {/each}
        {#if bar.rest}
          <!-- under the bar: no metal is dark behind it -->
          <text
            x={room < 620 ? bar.endX : Math.min(bar.restX + 34, room - LEFT - 150)}
            y={room < 620 ? HIGH + 44 : HIGH + 24}
            text-anchor={room < 620 ? 'end' : 'start'}
            class="small">{bar.rest}</text
          >
        {/if}
      </g>
    </svg>
  {/each}
</div>

<style>
  .metal {
    stroke: var(--color-base-content);
    stroke-width: 1.4;
    stroke-linejoin: round;
  }
  .blank {
    fill: var(--wash);
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  .scribe {
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  .name {
    font-size: 15px;
    font-weight: 500;
  }
  .small {
    font-size: 14px;
    fill: var(--soft);
  }
  .end {
    text-anchor: end;
  }
  .mark {
    font-size: 16px;
    font-weight: 600;
    fill: var(--color-primary);
    text-anchor: middle;
  }
</style>
