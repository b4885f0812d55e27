/** The geometry of the picture of misses: where a dot lies, how far the scale goes. Nothing here works out a ring. */
export interface Miss {
  at: string
  z_mm: number
}
export interface Frame {
  width: number
  height: number
  /** What lies at its upper and its lower edge [mm round]. */
  reach: number
}

const STEPS = [0.3, 0.5, 0.75, 1, 2, 3, 5, 10]

/** How far a scale goes to hold nearly all of some misses: a wild one is drawn at its edge. */
export function reachOf(misses: Miss[], more: number[] = []): number {
  const sizes = [...misses.map((one) => Math.abs(one.z_mm)), ...more.map(Math.abs)].sort(
    (a, b) => a - b,
  )
  const most = sizes[Math.max(0, Math.ceil(sizes.length * 0.96) - 1)] ?? 0
  return STEPS.find((step) => step >= most * 1.15) ?? 10
}

/** How many places the end of a scale is written with. */
export const placesOf = (reach: number): number => (reach === 0.75 ? 2 : 1)

/** Where a miss lies from the top; beyond the scale, at its edge. */
export function yOf(mm: number, { height, reach }: Frame): number {
  const held = Math.max(-reach, Math.min(reach, mm))
  return height / 2 - (held / reach) * (height / 2)
}

/** Where each of some misses lies from the left, by its day; alone, in the middle. */
export function xsOf(misses: Miss[], { width }: Frame): number[] {
  const times = misses.map((one) => new Date(one.at).getTime())
  const from = Math.min(...times)
  const to = Math.max(...times)
  if (!(to > from)) return misses.map((_, i) => (width * (i + 1)) / (misses.length + 1))
  return times.map((time) => ((time - from) / (to - from)) * width)
}

/** The months that stand under it, the first of each that its line has room for. */
export function monthsOf(misses: Miss[], frame: Frame): { x: number; text: string }[] {
  const xs = xsOf(misses, frame)
  const out: { x: number; text: string; month: string }[] = []
  misses.forEach((one, i) => {
    const date = new Date(one.at)
    const month = `${date.getFullYear()}-${date.getMonth()}`
    const x = xs[i] ?? 0
    const last = out.at(-1)
    if (last && (last.month === month || x - last.x < 88)) return
    out.push({ x, month, text: date.toLocaleDateString('en-GB', { month: 'short' }) })
  })
  return out.map(({ x, text }) => ({ x, text }))
}
