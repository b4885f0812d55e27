/** A shop's own route: the list as it is wanted, and the changes of ours that come to it. */
import type { Schemas } from '$lib/api/client'
import type { Row } from './rows'

type Step = Schemas['RouteStep']

/** The own rows of a style, in order, out of all styles'. */
export function ofStyle(rows: Row[], style: string): Row[] {
  return rows.filter((row) => row.style === style)
}

/** All rows with those of a style in the place of what it had. */
export function withStyle(rows: Row[], style: string, own: Row[]): Row[] {
  return [...rows.filter((row) => row.style !== style), ...own]
}

/** The list with one step so many places further down, never after the last, which is the hand-over. */
export function shifted(steps: Step[], key: string, by: number): Step[] {
  const at = steps.findIndex((one) => one.key === key)
  const to = Math.max(0, Math.min(steps.length - 2, at + by))
  if (at < 0 || at === steps.length - 1 || to === at) return steps
  const moved = steps.filter((_, place) => place !== at)
  moved.splice(to, 0, ...steps.slice(at, at + 1))
  return moved
}

/** As few changes of our order as the wanted list takes: what is left out, what is moved, what is added.
 *
 * Of two that are as few, the one in which the step that was just ``moved`` is the one that moved.
 */
export function changesOf(style: string, ours: string[], wanted: Step[], moving = ''): Row[] {
  const keys = new Set(wanted.map((one) => one.key))
  const out = ours.filter((key) => !keys.has(key)).map((step) => ({ style, change: 'out', step }))
  const places = wanted.map((one) => ours.indexOf(one.key))
  const known = places.filter((place) => place >= 0)
  const most = longestRising(known)
  const others = longestRising(known.filter((place) => place !== ours.indexOf(moving)))
  const stays = new Set(others.length < most.length ? most : others)
  const moved = wanted.flatMap((one, place): Row[] => {
    const after = wanted[place - 1]?.key ?? ''
    const was = places[place] ?? -1
    if (was >= 0) return stays.has(was) ? [] : [{ style, change: 'moved', step: one.key, after }]
    return [
      {
        style,
        change: 'added',
        after,
        title: one.title,
        says: one.says,
        station: one.station,
        hands_min: String(one.hands_min),
        wait_min: String(one.wait_min),
        deed: one.deed,
      },
    ]
  })
  return [...out, ...moved]
}

/** The longest run of places that only rises: what need not be moved. */
function longestRising(places: number[]): number[] {
  const best: number[][] = []
  for (const place of places) {
    const before = best.filter((run) => (run[run.length - 1] ?? -1) < place)
    const longest = before.reduce<number[]>(
      (most, run) => (run.length > most.length ? run : most),
      [],
    )
    best.push([...longest, place])
  }
  return best.reduce<number[]>((most, run) => (run.length > most.length ? run : most), [])
}
