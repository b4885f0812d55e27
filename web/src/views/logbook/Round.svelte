<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'

  let { symmetry }: { symmetry: Schemas['Symmetry'] } = $props()
  const R = 74
  const PER_MM = 17
  /** A place round the shank, its bottom down: the angle runs to the right. */
  const at = (deg: number, r: number) => {
    const a = (deg * Math.PI) / 180
    return [Math.sin(a) * r, Math.cos(a) * r] as const
  }
  const wedge = (deg: number, inner: number, outer: number) => {
    const [x1, y1] = at(deg - 11, inner)
    const [x2, y2] = at(deg + 11, inner)
    const [x3, y3] = at(deg + 11, outer)
    const [x4, y4] = at(deg - 11, outer)
    return `M${x1} ${y1}A${inner} ${inner} 0 0 0 ${x2} ${y2}L${x3} ${y3}A${outer} ${outer} 0 0 1 ${x4} ${y4}Z`
  }
</script>

<figure class="max-w-full">
  <svg
    viewBox="-150 -142 300 290"
    width="300"
    height="290"
    class="max-w-full"
    role="img"
    aria-label={`The shank seen from its side. ${symmetry.says.join(' ')}`}
  >
    <circle r={R} class="inside" />
    {#each symmetry.places as one (one.place)}
      {@const label = at(one.angle_deg, R + one.mm * PER_MM + 20)}
      <path d={wedge(one.angle_deg, R, R + one.left_mm * PER_MM)} class="wall" />
      {#if one.take_mm}
        <path
          d={wedge(one.angle_deg, R + one.left_mm * PER_MM, R + one.mm * PER_MM)}
          class="take"
        />
      {/if}
      <path
        d={wedge(
          one.angle_deg,
          R + symmetry.floor_mm * PER_MM,
          R + symmetry.floor_mm * PER_MM + 0.6,
        )}
        class="floor"
      />
      <text x={label[0]} y={label[1] + 5}>{one.text}</text>
    {/each}
    <text y="5" class="middle">{length(symmetry.floor_mm, 1)} at least</text>
  </svg>
  <figcaption class="text-lead">
    {#each symmetry.says as line (line)}<p>{line}</p>{/each}
  </figcaption>
</figure>

<style>
  .inside {
    fill: none;
    stroke: var(--hairline);
  }
  .wall {
    fill: var(--silver, var(--hairline));
    stroke: var(--color-ink);
    stroke-width: 1;
  }
  .take {
    fill: var(--color-base-100);
    stroke: var(--color-blue);
    stroke-width: 1.6;
    stroke-dasharray: 4 3;
  }
  .floor {
    stroke: var(--flame);
    stroke-width: 1;
    fill: none;
  }
  text {
    font-size: var(--text-small);
    text-anchor: middle;
  }
  .middle {
    fill: var(--soft);
  }
</style>
