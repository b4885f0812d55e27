<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import { fitting, sheets } from './bars'

  let { made, stale = false }: { made: Schemas['ProposedOut']; stale?: boolean } = $props()
  let room = $state(1200)
  const MARGIN = 2
  const drawn = $derived(sheets(made, Math.max(120, room - 2 * MARGIN)))
  const named = $derived(new Map(made.blanks.map((one) => [one.key, one])))
  const whose = (key: string) => named.get(key)?.job_name ?? ''
</script>

<div bind:clientWidth={room} class={[stale && 'stale', 'eased']} data-testid="cut-sheets">
  {#each drawn as sheet (sheet.key)}
    <figure class="mt-5">
      <figcaption class="text-body">
        <span class="font-medium">{sheet.title}</span>
        <span class="text-soft"
          >{length(sheet.long, 1)} × {length(sheet.wide, 1)}; {sheet.stays}</span
        >
      </figcaption>
      <svg
        width={room}
        height={sheet.high + 24}
        role="img"
        aria-label={`${sheet.title}: ${sheet.strips.map((one) => one.told).join('; ')}`}
        class="mt-1 block"
      >
        <g transform={`translate(${MARGIN} 12)`}>
          <rect
            x="0"
            y="0"
            width={sheet.across}
            height={sheet.high}
            fill={`var(--${made.group.family})`}
            class="metal"
          />
          {#each sheet.rests as rest (`${rest.x}/${rest.y}`)}
            <rect x={rest.x} y={rest.y} width={rest.width} height={rest.height} class="rest" />
          {/each}
          {#each sheet.places as place (`${place.x}/${place.y}`)}
            <rect x={place.x} y={place.y} width={place.width} height={place.height} class="blank" />
            {#if place.width > 54 && place.height > 17}
              <text x={place.x + 7} y={place.y + Math.min(place.height / 2 + 5, 20)} class="name"
                >{fitting(`${place.nth}  ${whose(place.key)}`, place.width, 8)}</text
              >
            {:else if place.height > 15 || place.width > 15}
              <text
                x={place.x + place.width / 2}
                y={place.y + place.height / 2 + 5}
                text-anchor="middle"
                class="name">{Math.min(place.width, place.height) > 12 ? place.nth : ''}</text
              >
            {/if}
          {/each}
        </g>
      </svg>
      <ol class="mt-1 text-body" aria-label={`Strips of ${sheet.title}`}>
        {#each sheet.strips as strip (strip.nth)}
          <li class="strip">
            <span class="nth">{strip.nth}</span>
            <span>{strip.told}</span>
            <span class="mark">{strip.marks.join(' · ')}</span>
            <span class="text-soft">{strip.cuts.map(whose).join(', ')}</span>
          </li>
        {/each}
      </ol>
    </figure>
  {/each}
</div>

<style>
  .metal {
    stroke: var(--color-base-content);
    stroke-width: 1.4;
  }
  .blank {
    fill: var(--wash);
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  .rest {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1;
    stroke-dasharray: 5 4;
    opacity: 0.55;
  }
  .name {
    font-size: 15px;
    font-weight: 500;
  }
  .strip {
    display: grid;
    grid-template-columns: 1.6rem minmax(16rem, 1fr) minmax(9rem, 1fr) minmax(9rem, 1fr);
    gap: 0.2rem 1.2rem;
    align-items: baseline;
    padding: 0.15rem 0;
  }
  .nth,
  .mark {
    font-weight: 600;
  }
  .mark {
    color: var(--color-primary);
    font-size: 16px;
  }
  @media (max-width: 760px) {
    .strip {
      grid-template-columns: 1.6rem 1fr;
    }
    .strip > :nth-child(n + 3) {
      grid-column: 2;
    }
  }
</style>
