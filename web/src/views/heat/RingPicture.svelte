<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { theme } from '$lib/theme.svelte'
  import { place, stretch } from './held'

  interface Props {
    picture: Schemas['HeatPicture']
    family: string
    roll: number
    stale: boolean
    onroll: (by: number) => void
  }
  let { picture, family, roll, stale, onroll }: Props = $props()

  const ROOM = 165 // half of the picture [dots]
  const RING = 122 // the ring's outer radius [dots]
  const scale = $derived(RING / picture.outer_mm)
  const inner = $derived(picture.inner_mm * scale)
  const outer = $derived(picture.outer_mm * scale)
  const glows = $derived(new Map(picture.glows.map((one) => [one.key, one])))
  const colour = (key: string) => {
    const glow = glows.get(key)
    if (!glow || key === 'none') return `var(--${family})`
    return theme.dim ? glow.dim : glow.paper
  }
  const water = $derived(picture.water_mm === null ? null : -picture.water_mm * scale)
  /** Two seams close together keep their words apart; the others hang outward. */
  function anchor({ kind, side }: Schemas['RingMark'], x: number): 'start' | 'middle' | 'end' {
    if (side) return side === 'left' ? 'end' : 'start'
    if (Math.abs(x) < 12) return 'middle'
    return x > 0 === (kind === 'seam') ? 'end' : 'start'
  }
  /** Seams that lie at the same place have their words under one another. */
  const under = (deg: number, i: number) =>
    picture.marks.slice(0, i).filter((one) => one.kind === 'seam' && Math.abs(one.deg - deg) < 12)
      .length
  let held = false
  let last = 0
  const angle = (event: PointerEvent, box: DOMRect) =>
    (Math.atan2(
      event.clientX - (box.left + box.width / 2),
      -(event.clientY - (box.top + box.height / 2)),
    ) *
      180) /
    Math.PI

  function pressed(event: KeyboardEvent) {
    const by = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[event.key]
    if (event.key === 'Home') onroll(-roll)
    else if (by) onroll(event.shiftKey ? 10 * by : by)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  function down(event: PointerEvent & { currentTarget: SVGElement }) {
    held = true
    last = angle(event, event.currentTarget.getBoundingClientRect())
    event.currentTarget.setPointerCapture(event.pointerId)
  }
  function moved(event: PointerEvent & { currentTarget: SVGElement }) {
    if (!held) return
    const now = angle(event, event.currentTarget.getBoundingClientRect())
    const by = Math.round(((now - last + 540) % 360) - 180)
    if (!by) return
    last = now
    onroll(by)
  }
</script>

<svg
  viewBox={`${-ROOM - 45} ${-ROOM} ${2 * ROOM + 90} ${2 * ROOM}`}
  class={['picture', stale && 'stale']}
  role="slider"
  tabindex="0"
  aria-label="Roll of the joint; arrow keys turn it"
  aria-valuemin="-180"
  aria-valuemax="180"
  aria-valuenow={roll}
  aria-valuetext={`rolled ${roll} degrees. ${picture.says}`}
  data-testid="heat-picture"
  onkeydown={pressed}
  onpointerdown={down}
  onpointermove={moved}
  onpointerup={() => (held = false)}
  onpointercancel={() => (held = false)}
>
  {#if water !== null}
    <rect
      x={-ROOM * 0.9}
      y={water}
      width={ROOM * 1.8}
      height={Math.max(0, ROOM - water - 4)}
      class="water"
    />
    <line x1={-ROOM * 0.9} x2={ROOM * 0.9} y1={water} y2={water} class="line" />
    <text x={ROOM * 0.86} y={ROOM - 12} class="said" text-anchor="end">water</text>
  {/if}
  {#each picture.arcs as arc, i (i)}
    <path d={stretch(inner, outer, arc.from_deg, arc.to_deg)} fill={colour(arc.glow)} />
  {/each}
  <circle r={inner} class="edge" />
  <circle r={outer} class="edge" />
  {#each picture.marks as mark, i (i)}
    {@const from = place(inner - 2, mark.deg)}
    {@const to = place(outer + 7, mark.deg)}
    {@const at = place(mark.kind === 'seam' ? inner - 40 : outer + 13, mark.deg)}
    {#if mark.kind === 'inlay'}
      <circle r={(inner + outer) / 2} class="inlay" />
    {:else if mark.kind === 'stone'}
      {@const sits = place(outer + 8, mark.deg)}
      <ellipse
        cx={sits.x}
        cy={sits.y}
        rx="15"
        ry="8"
        transform={`rotate(${mark.deg} ${sits.x} ${sits.y})`}
        class="gem"
      />
    {:else}
      <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} class={['mark', mark.kind]} />
    {/if}
    <text
      x={mark.kind === 'stone' ? place(outer + 22, mark.deg).x : at.x}
      y={(mark.kind === 'stone' ? place(outer + 28, mark.deg).y : at.y) +
        4 +
        (mark.kind === 'seam' ? 15 * under(mark.deg, i) : 0)}
      class={['name', mark.kind]}
      text-anchor={anchor(mark, at.x)}>{mark.title}</text
    >
  {/each}
  {#if picture.legs_text.length}
    <text y="-44" class="said" text-anchor="middle"
      >{picture.legs_text.join(' and ')} to the water</text
    >
  {/if}
  <text y="-14" class="roll">rolled {roll}°</text>
  <text y="6" class="said" text-anchor="middle">← → turn it</text>
</svg>
<p class="text-soft mt-1 text-small">
  {picture.holds}; from the joint outward:
  {#each picture.reaches as one (one.glow)}
    <span class="reach"
      ><span class="swatch" style:background={colour(one.glow)}></span>{one.title}, {one.says}</span
    >
  {/each}
</p>

<style>
  .picture {
    width: 100%;
    max-width: 520px;
    touch-action: none;
    cursor: grab;
    user-select: none;
  }
  .water {
    fill: color-mix(in srgb, var(--color-blue) 14%, var(--color-base-100));
  }
  .line {
    stroke: var(--color-blue);
    stroke-width: 1.5;
  }
  .edge {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  .mark {
    stroke: var(--color-base-content);
    stroke-width: 2;
  }
  .mark.tweezers {
    stroke-width: 6;
    stroke: var(--soft);
  }
  .inlay {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 2;
    stroke-dasharray: 2 5;
  }
  .gem {
    fill: var(--wash);
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  .name {
    font-size: 13px;
    font-weight: 500;
  }
  .reach {
    display: inline-block;
    margin-right: 0.8rem;
    white-space: nowrap;
  }
  .swatch {
    display: inline-block;
    width: 0.9em;
    height: 0.9em;
    margin-right: 0.3em;
    vertical-align: -0.1em;
    border: 1px solid var(--color-hairline);
  }
  .said {
    font-size: 12px;
    fill: var(--soft);
  }
  .roll {
    font-size: 18px;
    font-weight: 500;
    text-anchor: middle;
  }
</style>
