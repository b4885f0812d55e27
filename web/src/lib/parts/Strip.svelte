<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { strip } from '$lib/drawing/scale'

  interface Props {
    blank: Schemas['Blank']
    section: Schemas['Section']
    family: string
    lit: string
    stale?: boolean
  }
  let { blank, section, family, lit = $bindable(), stale = false }: Props = $props()

  let room = $state(1208)
  const X0 = 10
  const TOP = 30
  const drawing = $derived(strip(blank, section.width_mm, room, X0))
  const bottom = $derived(TOP + drawing.height)
  const total = $derived(bottom + 46)
  const domed = $derived(!['square', 'rectangle', 'sheet'].includes(section.profile))
  const chosen = $derived(drawing.spans.find((span) => span.key === lit))
  const figureOf = (key: string) => blank.terms.find((t) => t.key === key)?.text ?? ''
  const titleOf = (key: string) => blank.terms.find((t) => t.key === key)?.title ?? ''
</script>

<div bind:clientWidth={room} class={[stale && 'stale', 'eased']}>
  <svg
    width={room}
    height={total}
    viewBox={`0 0 ${room} ${total}`}
    role="img"
    aria-label={`The blank to scale on a ruler: square end left, scribe line at ${blank.cut_text} mm, waste to its right.`}
    data-testid="strip"
    data-per-mm={drawing.perMm}
  >
    <defs>
      <pattern
        id="waste"
        width="9"
        height="9"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" y2="9" class="hatch" />
      </pattern>
    </defs>

    <rect
      x={X0}
      y={TOP}
      width={drawing.cutX - X0}
      height={drawing.height}
      fill={`var(--${family})`}
    />
    {#if domed}
      <rect x={X0} y={TOP} width={drawing.cutX - X0} height={drawing.height * 0.32} class="light" />
      <rect
        x={X0}
        y={TOP + drawing.height * 0.8}
        width={drawing.cutX - X0}
        height={drawing.height * 0.2}
        class="shade"
      />
    {/if}
    <rect
      x={drawing.cutX}
      y={TOP}
      width={drawing.endX - drawing.cutX}
      height={drawing.height}
      fill="url(#waste)"
    />

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
      {#if !span.off && span.x > X0}
        <line x1={span.x} x2={span.x} y1={TOP - 5} y2={bottom + 4} class="scribe" />
      {/if}
    {/each}

    <text x={X0} y={TOP - 10} class="soft">square end</text>
    {#each drawing.marks as mark (mark.key)}
      <line
        x1={mark.x}
        x2={mark.x}
        y1={TOP - (mark.key === 'cut' ? 24 : 8)}
        y2={bottom + 12}
        class={mark.key === 'cut' ? 'cut' : 'back'}
      />
      {#if mark.key === 'cut' && !chosen}
        <text x={mark.x - 8} y={TOP - 10} text-anchor="end" class="said">{mark.text}</text>
      {/if}
    {/each}
    {#if chosen}
      <text
        x={Math.min(Math.max(chosen.x + chosen.width / 2, 130), room - 160)}
        y={TOP - 10}
        text-anchor="middle"
        class="told">{titleOf(lit)} {figureOf(lit)}</text
      >
    {/if}

    {#each drawing.ticks as tick (tick.mm)}
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
          >{tick.mm}</text
        >
      {/if}
    {/each}
  </svg>
  {#if drawing.truncated}
    <p class="text-soft text-[15px]">
      {section.width_mm.toFixed(1)} wide: its length is to scale, its width is cut short here.
    </p>
  {/if}
</div>

<style>
  .light {
    fill: var(--color-base-100);
    opacity: 0.32;
  }
  .shade {
    fill: var(--color-base-content);
    opacity: 0.16;
  }
  .hatch {
    stroke: var(--color-base-content);
    stroke-opacity: 0.42;
    stroke-width: 1;
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
    font-size: 15px;
  }
  .said,
  .told,
  .number {
    font-size: 15px;
    font-weight: 500;
  }
  .told {
    fill: var(--color-primary);
  }
</style>
