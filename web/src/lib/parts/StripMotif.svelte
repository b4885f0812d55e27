<script lang="ts">
  /** What the whole application is about, drawn: a strip on its ruler, each stretch with its reason, the waste side. */
  const STRETCHES = [
    { from: 0, to: 520, says: 'once round the finger' },
    { from: 520, to: 650, says: 'the thickness' },
    { from: 650, to: 712, says: 'the joint' },
  ]
  const CUT = 712
  const END = 780
  const TICKS = Array.from({ length: 66 }, (_, i) => i)
</script>

<svg
  viewBox="-2 0 800 150"
  class="w-full max-w-[62rem]"
  role="img"
  aria-label="A strip from its square end: once round the finger, the thickness, the joint; then the cut, and the waste."
>
  <defs>
    <pattern
      id="waste"
      width="9"
      height="9"
      patternUnits="userSpaceOnUse"
      patternTransform="rotate(45)"
    >
      <line x1="0" x2="0" y1="0" y2="9" class="hatch" />
    </pattern>
  </defs>
  <rect x={CUT} y="46" width={END - CUT} height="52" fill="url(#waste)" />
  {#each STRETCHES as one, i (one.says)}
    <rect
      x={one.from}
      y="46"
      width={one.to - one.from}
      height="52"
      class={['stretch', i === 1 && 'lit']}
    />
    <text x={(one.from + one.to) / 2} y="34" text-anchor="middle">{one.says}</text>
  {/each}
  <line x1={CUT} x2={CUT} y1="38" y2="112" class="cut" />
  <text x={CUT + 8} y="130">cut here</text>
  {#each TICKS as tick (tick)}
    <line
      x1={tick * 12}
      x2={tick * 12}
      y1="98"
      y2={tick % 10 ? (tick % 5 ? 104 : 108) : 114}
      class="tick"
    />
  {/each}
</svg>

<style>
  .stretch {
    fill: var(--tool);
    stroke: var(--color-base-content);
    stroke-width: 1.2;
  }
  .lit {
    fill: var(--wash);
    stroke: var(--color-primary);
  }
  .hatch {
    stroke: var(--color-base-300);
    stroke-width: 2;
  }
  .cut {
    stroke: var(--color-primary);
    stroke-width: 2.6;
  }
  .tick {
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  text {
    font-size: var(--text-small);
    font-weight: 500;
  }
</style>
