/** Where things stand along the hours of a day: times to places, and names that do not lie over one another. */

const HOUR = 3_600_000

export interface Span {
  begins: number
  ends: number
}

/** The whole hours that hold all of these, a working day where there is nothing. */
export function span(times: number[], now: number): Span {
  const from = times.length ? Math.min(...times) : now
  const to = times.length ? Math.max(...times) : now + 8 * HOUR
  const begins = Math.floor(from / HOUR) * HOUR
  return { begins, ends: Math.max(Math.ceil(to / HOUR) * HOUR, begins + 4 * HOUR) }
}

/** The whole hours between two times, as many as there is room for. */
export function hours({ begins, ends }: Span, room: number): number[] {
  const count = Math.round((ends - begins) / HOUR)
  const every = [1, 2, 3, 4, 6, 12].find((step) => (room / count) * step >= 54) ?? 24
  return Array.from({ length: count + 1 }, (_, nth) => begins + nth * HOUR).filter(
    (_, nth) => nth % every === 0,
  )
}

export interface Name {
  x: number
  text: string
}

/** Which names have room in a row, and in which of its lines; the ones that have none are left to their title. */
export function named<T extends Name>(
  names: T[],
  lines: number,
  letter = 7.2,
): (T & { line: number })[] {
  const free = Array.from({ length: lines }, () => -Infinity)
  const out: (T & { line: number })[] = []
  for (const name of [...names].sort((a, b) => a.x - b.x)) {
    const line = free.findIndex((end) => end <= name.x)
    if (line < 0) continue
    free[line] = name.x + name.text.length * letter + 10
    out.push({ ...name, line })
  }
  return out
}

/** Lines for spans that run beside one another: each in the first that is free. */
export function lanes<T extends Span>(spans: T[]): (T & { lane: number })[] {
  const free: number[] = []
  return [...spans]
    .sort((a, b) => a.begins - b.begins || a.ends - b.ends)
    .map((one) => {
      const found = free.findIndex((end) => end <= one.begins)
      const lane = found < 0 ? free.length : found
      free[lane] = one.ends
      return { ...one, lane }
    })
}

/** Steps of one ring that one person does without a pause, as one run. */
export function runs<T extends Span & { job: number }>(steps: T[]): T[][] {
  const out: T[][] = []
  for (const step of [...steps].sort((a, b) => a.begins - b.begins)) {
    const last = out.at(-1)?.at(-1)
    if (last && last.job === step.job && step.begins - last.ends < 60_000) out.at(-1)?.push(step)
    else out.push([step])
  }
  return out
}

/** A time moved by so many minutes, onto the next five. */
export function moved(time: number, by: number): number {
  return Math.round((time + by * 60_000) / 300_000) * 300_000
}
