<script lang="ts">
  import { length, rulerUnits } from '$lib/length.svelte'
  import type { Schemas } from '$lib/api/client'
  import { pathData, shapeData } from '$lib/drawing/paths'
  import { strip } from '$lib/drawing/scale'
  import Grip from './Grip.svelte'

  interface Props {
    blank: Schemas['Blank']
    family: string
    lit: string
    stale?: boolean
    perMm?: number | undefined
    tallest?: number
    named?: boolean
    /** Whether the ruler bears its numbers, and what is cut short is said. */
    ruled?: boolean
    onmove?: ((field: string, value: number) => void) | undefined
  }
  let {
    blank,
    family,
    lit = $bindable(),
    stale = false,
    perMm,
    tallest = 104,
    named = false,
    ruled = true,
    onmove,
  }: Props = $props()

  let room = $state(1208)
  const X0 = 10
  const TOP = 30
  const drawing = $derived(
    strip(blank, {
      width: room,
      x0: X0,
      tallest,
      units: rulerUnits(),
      ...(perMm === undefined ? {} : { perMm }),
    }),
  )
  const x0 = $derived(drawing.x0)
  const bottom = $derived(TOP + drawing.height)
  const grips = $derived(onmove && ruled ? drawing.marks.filter((mark) => mark.handle) : [])
  const total = $derived(bottom + (ruled ? 46 : 10) + (grips.length ? 14 : 0))
  // a short strip has its words beside it where there is room, and no others over it
  const tight = $derived(drawing.cutX - x0 < 420)
  const short = $derived(tight && drawing.cutX + 212 < room)
  const domed = $derived(!['square', 'rectangle', 'sheet'].includes(blank.section.profile))
  const solid = $derived(blank.drawing.shapes.filter((shape) => shape.tone !== 'ghost'))
  const ghosts = $derived(blank.drawing.shapes.filter((shape) => shape.tone === 'ghost'))
  const chosen = $derived(drawing.spans.find((span) => span.key === lit))
  const clip = $props.id()
  const name = $derived(blank.title + (blank.count > 1 ? `, ${blank.count} of them` : ''))
  const figureOf = (key: string) => blank.terms.find((t) => t.key === key)?.text ?? ''
  const titleOf = (key: string) => blank.terms.find((t) => t.key === key)?.title ?? ''
  // a drawing wider than may be shown keeps its length and loses its width: its middle is seen
  const lift = $derived((blank.width_mm * drawing.perMm - drawing.height) / 2)
  const inMm = $derived(
    `translate(${x0} ${bottom + (drawing.truncated ? lift : 0)}) scale(${drawing.perMm})`,
  )
  const said = $derived(
    drawing.marks.filter((mark) => mark.key !== 'cut' && mark.text && drawing.cutX - mark.x > 250),
  )
</script>

<div
  bind:clientWidth={room}
  class={[stale && 'stale', 'eased', perMm !== undefined && 'overflow-x-auto']}
>
  <svg
    width={Math.max(room, drawing.cutX + 20)}
    height={total}
    viewBox={`0 0 ${Math.max(room, drawing.cutX + 20)} ${total}`}
    role={onmove ? 'group' : 'img'}
    aria-label={`The ${named ? blank.title : 'blank'} to scale on a ruler: square end left, scribe line at ${blank.cut_text} ${blank.unit}, waste to its right.`}
    data-testid="strip"
    data-blank={blank.name}
    data-per-mm={drawing.perMm}
  >
    <defs>
      <pattern
        id={`waste-${clip}`}
        width="9"
        height="9"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" y2="9" class="hatch" />
      </pattern>
      <clipPath id={`room-${clip}`}>
        <rect x="0" y={TOP} width={room + 2000} height={drawing.height} />
      </clipPath>
    </defs>

    <g clip-path={`url(#room-${clip})`}>
      {#if ghosts.length}
        {#each ghosts as shape (shape.key)}
          <path d={shapeData(shape)} transform={inMm} fill={`var(--${family})`} class="ghost" />
        {/each}
      {:else}
        <rect
          x={drawing.cutX}
          y={TOP}
          width={Math.max(drawing.endX - drawing.cutX, 0)}
          height={drawing.height}
          fill={`url(#waste-${clip})`}
        />
      {/if}
      {#each solid as shape (shape.key)}
        <path
          d={shapeData(shape)}
          transform={inMm}
          fill={`var(--${family})`}
          data-shape={shape.key}
        />
      {/each}
      {#if domed}
        <rect
          x={x0}
          y={TOP}
          width={drawing.cutX - x0}
          height={drawing.height * 0.32}
          class="light"
        />
        <rect
          x={x0}
          y={TOP + drawing.height * 0.8}
          width={drawing.cutX - x0}
          height={drawing.height * 0.2}
          class="shade"
        />
      {/if}
      {#each blank.drawing.lines as line (line.key)}
        <path d={pathData(line.path, false)} transform={inMm} class={['mark', line.kind]} />
      {/each}
      {#each blank.drawing.labels as label, i (i)}
        <text
          x={x0 + label.x_mm * drawing.perMm}
          y={bottom - label.y_mm * drawing.perMm}
          text-anchor="middle"
          font-size={(label.height_mm / 0.7) * drawing.perMm}
          class="letter">{label.text}</text
        >
      {/each}
    </g>

    {#each drawing.spans as span (span.key)}
      <!-- svelte-ignore a11y_no_static_element_interactions -->
      <rect
        class={['span', lit === span.key && 'lit', span.off && 'off']}
        x={span.x}
        y={TOP}
        width={Math.max(span.width, 1)}
        height={drawing.height}
        data-stretch={span.key}
        onmouseenter={() => (lit = span.key)}
        onmouseleave={() => (lit = '')}
      />
      {#if !span.off && span.x > x0 && span.x < drawing.cutX}
        <line x1={span.x} x2={span.x} y1={TOP - 5} y2={bottom + 4} class="scribe" />
      {/if}
    {/each}

    <text x={x0} y={TOP - 10} class="soft"
      >{#if named}<tspan class="name">{name}</tspan>{/if}{#if !(tight && named)}<tspan
          dx={named ? 10 : 0}>square end</tspan
        >{/if}</text
    >
    {#each drawing.marks as mark (mark.key)}
      <line
        x1={mark.x}
        x2={mark.x}
        y1={TOP - (mark.key === 'cut' ? 24 : 8)}
        y2={bottom + (ruled ? 12 : 4)}
        class={mark.key === 'cut' ? 'cut' : 'back'}
      />
      {#if mark.key === 'cut' && !chosen}
        <text
          x={mark.x + (short ? 8 : -8)}
          y={TOP - 10}
          text-anchor={short ? 'start' : 'end'}
          class="said">{mark.text}</text
        >
      {/if}
    {/each}
    {#if !chosen}
      {#each said as mark (mark.key)}
        {#if mark.x - x0 > 150}
          <text x={mark.x} y={TOP - 12} text-anchor="middle" class="soft">{mark.text}</text>
        {/if}
      {/each}
    {/if}
    {#if chosen}
      <text
        x={Math.min(Math.max(chosen.x + chosen.width / 2, 130), room - 160)}
        y={TOP - 10}
        text-anchor="middle"
        class="told">{titleOf(lit)} {figureOf(lit)}</text
      >
    {/if}

    {#each ruled ? drawing.ticks : [] as tick (tick.mm)}
      <line
        x1={tick.x}
        x2={tick.x}
        y1={bottom + 8}
        y2={bottom + (tick.kind === 'ten' ? 26 : tick.kind === 'five' ? 19 : 14)}
        class="tick"
        class:ten={tick.kind === 'ten'}
      />
      {#if tick.kind === 'ten'}
        <text x={tick.x} y={bottom + 43} text-anchor={tick.mm ? 'middle' : 'start'} class="number"
          >{tick.says}</text
        >
      {/if}
    {/each}
    {#if onmove}
      {#each grips as mark (mark.key)}
        {#if mark.handle}
          <Grip handle={mark.handle} x={mark.x} y={bottom + 47} perMm={drawing.perMm} {onmove} />
        {/if}
      {/each}
    {/if}
  </svg>
  {#if drawing.truncated && ruled}
    <p class="text-soft text-small">
      {length(blank.width_mm, 1)} wide: its length is to scale, its width is cut short here.
    </p>
  {/if}
</div>

<style>
  .light {
    fill: var(--color-base-100);
    opacity: 0.32;
    pointer-events: none;
  }
  .shade {
    fill: var(--color-base-content);
    opacity: 0.16;
    pointer-events: none;
  }
  .hatch {
    stroke: var(--color-base-content);
    stroke-opacity: 0.42;
    stroke-width: 1;
  }
  .ghost {
    fill-opacity: 0.28;
    stroke: var(--color-base-content);
    stroke-dasharray: 4 3;
    vector-effect: non-scaling-stroke;
  }
  .mark {
    fill: none;
    stroke: var(--color-base-content);
    stroke-opacity: 0.65;
    stroke-width: 1.2;
    vector-effect: non-scaling-stroke;
    pointer-events: none;
  }
  .centre,
  .fold {
    stroke-dasharray: 9 4 2 4;
  }
  .saw {
    stroke: var(--flame);
    stroke-opacity: 1;
    stroke-width: 2;
  }
  .texture {
    stroke-opacity: 0.4;
  }
  .letter {
    font-weight: 600;
    pointer-events: none;
  }
  .span {
    fill: transparent;
  }
  .span.lit {
    fill: var(--color-primary);
    fill-opacity: 0.82;
  }
  .span.off.lit {
    fill: var(--flame);
    fill-opacity: 0.6;
  }
  .scribe {
    stroke: var(--color-primary);
    stroke-width: 1.5;
    pointer-events: none;
  }
  .cut {
    stroke: var(--color-base-content);
    stroke-width: 2.5;
    pointer-events: none;
  }
  .back {
    stroke: var(--color-base-content);
    stroke-dasharray: 4 3;
  }
  .tick {
    stroke: var(--color-base-content);
    stroke-opacity: 0.7;
  }
  .ten {
    stroke-width: 1.6;
    stroke-opacity: 1;
  }
  .soft {
    fill: var(--soft);
    font-size: var(--text-small);
  }
  .name {
    fill: var(--color-base-content);
    font-weight: 600;
  }
  .said,
  .told,
  .number {
    font-size: var(--text-small);
    font-weight: 500;
  }
  .told {
    fill: var(--color-primary);
  }
</style>
