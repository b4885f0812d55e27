<script lang="ts">
  import type { BenchRing } from '$lib/api/client'
  import { benchRows, shortName, type BenchDrawing } from '$lib/drawing/bench'
  import { ringPath } from '$lib/drawing/scale'

  interface Props {
    rings: BenchRing[]
    stations: { key: string; title: string }[]
    places: { key: string; title: string; short: string }[]
  }
  let { rings, stations, places }: Props = $props()
  // a job that is elsewhere stands there on the line; a place where nothing is takes no room
  const away = $derived(
    places
      .filter((place) => rings.some((ring) => ring.place === place.key))
      .map(({ key, short }) => ({ key, title: short })),
  )
  let room = $state(1208)
  const rows = $derived(benchRows(rings, [...stations, ...away], room))
  const width = $derived(Math.max(0, ...rows.map((one) => one.width)))
  const low = $derived(rows.length > 1 ? 44 : 110)
  const baseOf = (drawing: BenchDrawing) =>
    Math.max(low, ...drawing.placed.map((p) => p.y + p.high), drawing.pot?.high ?? 0) + 26
  /** The first place beside the bench: from there on the line is dotted. */
  const edgeOf = (drawing: BenchDrawing) =>
    drawing.stations.find((one) => away.some((place) => place.key === one.key))
  const GAP_DEG = 16
  const tone = (ring: BenchRing) => `var(--${ring.metal_family})`
  const says = (ring: BenchRing) =>
    ring.place
      ? `${ring.name}, ${places.find((one) => one.key === ring.place)?.title ?? ''}`
      : `${ring.name}, at ${ring.standing.station}: ${ring.standing.next_title}`
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="overflow-x-auto"
  data-testid="bench-line"
  bind:clientWidth={room}
  role="region"
  aria-label="The bench, station by station"
  tabindex={width > room ? 0 : undefined}
>
  {#each rows as drawing, row (row)}
    {@const base = baseOf(drawing)}
    {@const edge = edgeOf(drawing)}
    <svg
      width={drawing.width}
      height={base + 52}
      viewBox={`0 0 ${drawing.width} ${base + 52}`}
      class="block"
    >
      {#if drawing.pot}
        {@const pot = drawing.pot}
        {@const half = pot.width / 2}
        <path
          d={`M${pot.x - half - 8} ${base - pot.high + 26}H${pot.x + half + 8}L${pot.x + half} ${base - 2}H${pot.x - half}Z`}
          class="acid"
        />
        <path
          d={`M${pot.x - half - 14} ${base - pot.high}L${pot.x - half} ${base - 2}H${pot.x + half}L${pot.x + half + 14} ${base - pot.high}`}
          class="pot"
        />
      {/if}
      <line
        x1="0"
        x2={edge ? edge.x - edge.width / 2 : drawing.width}
        y1={base}
        y2={base}
        class="line"
      />
      {#if edge}
        <line x1={edge.x - edge.width / 2} x2={drawing.width} y1={base} y2={base} class="away" />
      {/if}
      {#each drawing.stations as station (station.key)}
        <line x1={station.x} x2={station.x} y1={base} y2={base + 12} class="stand" />
        <text x={station.x} y={base + 36} text-anchor="middle" class="station">{station.title}</text
        >
      {/each}

      {#each drawing.placed as place (place.ring.id)}
        {@const bottom = base - 2 - place.y}
        <a
          href={`/job/${place.ring.id}`}
          aria-label={says(place.ring)}
          data-shape={place.shape}
          data-station={place.ring.place || place.ring.standing.station}
        >
          <!-- the whole place is the target, the hole of a ring too: hands are dirty and gloved -->
          <rect
            x={place.x - place.length / 2}
            y={bottom - Math.max(place.high, 12) - 22}
            width={place.length}
            height={Math.max(place.high, 12) + 22}
            class="reach"
          />
          {#if place.shape === 'strip'}
            <rect
              x={place.x - place.length / 2}
              y={bottom - place.high - 3}
              width={place.length}
              height={place.high}
              fill={tone(place.ring)}
              class="metal"
            />
            {#if place.name}
              <text x={place.x + place.length / 2 + 8} y={bottom - place.high / 2 + 2}
                >{shortName(place.ring)}</text
              >
            {/if}
            <title>{place.ring.name}</title>
          {:else}
            <path
              d={ringPath(
                place.x,
                bottom - place.outer,
                place.inner,
                place.outer,
                place.shape === 'open' ? GAP_DEG : 0,
              )}
              fill={tone(place.ring)}
              fill-rule="evenodd"
              class="metal"
            />
            {#if place.name}
              <text
                x={place.x}
                y={place.name === 'inside' ? bottom - place.outer + 5 : bottom - place.high - 8}
                text-anchor="middle">{shortName(place.ring)}</text
              >
            {/if}
            <title>{place.ring.name}</title>
          {/if}
        </a>
      {/each}
    </svg>
  {/each}
</div>

<style>
  .line {
    stroke: var(--color-base-content);
    stroke-width: 3;
  }
  .away {
    stroke: var(--color-base-content);
    stroke-width: 1.5;
    stroke-dasharray: 2 7;
  }
  .stand {
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  .station {
    font-size: 17px;
    font-weight: 500;
  }
  .reach {
    fill: transparent;
  }
  .metal {
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  .pot {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  .acid {
    fill: var(--acid);
  }
  text {
    font-size: 15px;
  }
  a {
    outline-offset: 4px;
  }
  a:hover text,
  a:focus-visible text {
    fill: var(--color-primary);
    font-weight: 600;
  }
</style>
