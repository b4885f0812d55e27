<script lang="ts">
  /** A section small enough for a line of a list, in its metal's tone; a heap where it has none. */
  interface Props {
    outline: number[][]
    family: string
  }
  let { outline, family }: Props = $props()
  const W = 38
  const H = 26
  const box = $derived.by(() => {
    const xs = outline.map((p) => p[0] ?? 0)
    const ys = outline.map((p) => p[1] ?? 0)
    const wide = Math.max(...xs) - Math.min(...xs)
    const high = Math.max(...ys) - Math.min(...ys)
    const per = Math.min(W / wide, H / high)
    return { per, left: Math.min(...xs), low: Math.min(...ys), wide: wide * per, high: high * per }
  })
  const HEAP = 'M3 25L9 9L19 4L30 10L36 25Z'
  const path = $derived(
    outline
      .map(([x = 0, y = 0], i) => {
        const px = (x - box.left) * box.per + (W - box.wide) / 2 + 1
        const py = H - (y - box.low) * box.per + 1
        return `${i ? 'L' : 'M'}${px.toFixed(1)} ${py.toFixed(1)}`
      })
      .join(''),
  )
</script>

<svg width="40" height="28" aria-hidden="true" class="shrink-0">
  <path d={outline.length ? `${path}Z` : HEAP} fill={`var(--${family})`} class="metal" />
</svg>

<style>
  .metal {
    stroke: var(--color-base-content);
    stroke-width: 1.2;
    stroke-linejoin: round;
  }
</style>
