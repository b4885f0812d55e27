<script lang="ts">
  import { length } from '$lib/length.svelte'
  import type { Schemas } from '$lib/api/client'
  import { moved } from '$lib/drawing/scale'

  interface Props {
    handle: Schemas['Handle']
    x: number
    y: number
    perMm: number
    onmove: (field: string, value: number) => void
  }
  let { handle, x, y, perMm, onmove }: Props = $props()
  let from = $state.raw<{ x: number; handle: Schemas['Handle'] } | null>(null)
  const shown = $derived(length(handle.value))

  function keyed(event: KeyboardEvent) {
    const ways: Record<string, number> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }
    const way = ways[event.key]
    if (!way) return
    event.preventDefault()
    // an arrow moves the mark that way on the strip, a tenth at a time; with Shift a whole one
    const step = (event.shiftKey ? 10 : 1) * handle.step * way * Math.sign(handle.per_mm)
    onmove(handle.field, moved({ ...handle, per_mm: 1 }, step))
  }
  function grabbed(event: PointerEvent) {
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    from = { x: event.clientX, handle }
  }
  function dragged(event: PointerEvent) {
    if (from) onmove(from.handle.field, moved(from.handle, (event.clientX - from.x) / perMm))
  }
</script>

<g
  role="slider"
  tabindex="0"
  aria-label={`${handle.label}, arrow keys move it`}
  aria-valuenow={handle.value}
  aria-valuemin={handle.low}
  aria-valuemax={handle.high}
  aria-valuetext={shown}
  data-handle={handle.field}
  onkeydown={keyed}
  onpointerdown={grabbed}
  onpointermove={dragged}
  onpointerup={() => (from = null)}
  onpointercancel={() => (from = null)}
>
  <rect x={x - 14} y={y - 3} width="28" height="30" class="reach" />
  <path d={`M${x} ${y}l8 12h-16z`} class="grip" />
  <title>{handle.label} {shown}</title>
</g>

<style>
  g {
    cursor: ew-resize;
    touch-action: none;
  }
  .reach {
    fill: transparent;
  }
  .grip {
    fill: var(--color-primary);
  }
  g:focus-visible {
    outline: none;
  }
  g:focus-visible .grip {
    stroke: var(--color-base-content);
    stroke-width: 3;
  }
</style>
