/** The bars of a cut plan at one scale: where each blank lies, where its mark stands, how much of a coil is drawn. */
import type { Schemas } from '$lib/api/client'

export interface BarBlank {
  key: string
  x: number
  width: number
  markX: number
  mark: string
}
export interface Bar {
  key: string
  title: string
  length: number
  blanks: BarBlank[]
  /** Where the metal ends in the drawing, and whether it goes on beyond it. */
  endX: number
  torn: boolean
  restX: number
  rest: string
}

/** How much of a piece is drawn [mm]: all of it, or a good piece beyond its last mark where it is a long coil. */
export function drawnMm(length: number, last: number): number {
  return Math.min(length, Math.max(last * 1.3, last + 40))
}

/** The bars of a plan, the longest as wide as the room. */
export function bars(made: Schemas['ProposedOut'], room: number): Bar[] {
  const named = new Map(made.lines.map((line) => [line.id, line]))
  const pieces = made.plan.pieces.map((one) => ({
    key: one.stock_id,
    title: named.get(one.stock_id)?.called ?? '',
    rest: named.get(one.stock_id)?.stays ?? '',
    marks: made.marks[one.stock_id] ?? [],
    ...one,
  }))
  const reach = pieces.map((one) => drawnMm(one.length_mm, one.marks_mm.at(-1) ?? 0))
  const perMm = room / Math.max(1, ...reach)
  return pieces.map((one, i) => {
    const last = one.marks_mm.at(-1) ?? 0
    return {
      key: one.key,
      title: one.title,
      length: one.length_mm,
      blanks: one.cuts.map((key, at) => {
        const end = (one.marks_mm[at] ?? 0) * perMm
        const width = (one.lengths_mm[at] ?? 0) * perMm
        return { key, x: end - width, width, markX: end, mark: one.marks[at] ?? '' }
      }),
      endX: (reach[i] ?? 0) * perMm,
      torn: (reach[i] ?? 0) < one.length_mm - 1e-6,
      restX: last * perMm,
      rest: one.rest,
    }
  })
}

interface Box {
  x: number
  y: number
  width: number
  height: number
}
export interface Sheet {
  key: string
  title: string
  stays: string
  long: number
  wide: number
  /** As it is drawn. */
  across: number
  high: number
  places: (Box & { key: string; nth: number })[]
  rests: Box[]
  strips: { nth: number; told: string; marks: string[]; cuts: string[] }[]
}

/** A sheet is drawn no higher than that: a square one leaves room for what is said of it. */
const HIGHEST = 340

/** The sheets of a plan, each in its own proportions: its strips in the order of their cuts, its blanks, its rests. */
export function sheets(made: Schemas['ProposedOut'], room: number): Sheet[] {
  return made.sheets.map(({ id, called, stays, long_mm: long, wide_mm: wide }) => {
    const scale = Math.min(room / long, HIGHEST / wide)
    const box = (one: { x_mm: number; y_mm: number; long_mm: number; wide_mm: number }): Box => ({
      x: one.x_mm * scale,
      y: one.y_mm * scale,
      width: one.long_mm * scale,
      height: one.wide_mm * scale,
    })
    const mine = made.plan.strips
      .map((strip, at) => ({ strip, key: `${id}/${at}` }))
      .filter(({ strip }) => strip.sheet_id === id)
    return {
      key: id,
      title: called,
      stays,
      long,
      wide,
      across: long * scale,
      high: wide * scale,
      places: mine.flatMap(({ strip }, at) =>
        strip.places.map((place) => ({ ...box(place), key: place.id, nth: at + 1 })),
      ),
      rests: made.plan.rests.filter((rest) => rest.sheet_id === id).map(box),
      strips: mine.map(({ strip, key }, at) => ({
        nth: at + 1,
        told: made.told[key] ?? '',
        marks: made.marks[key] ?? [],
        cuts: strip.cuts,
      })),
    }
  })
}

/** As much of a text as has room in the drawing: so many dots wide, each letter ``per``. */
export function fitting(text: string, width: number, per: number): string {
  if (text.length * per < width - 12) return text
  return `${text.slice(0, Math.max(0, Math.floor((width - 20) / per)))}…`
}

/** The number of blanks and pieces, as one says it: five blanks from two pieces. */
export function countWords(count: number, what: string): string {
  const small = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine']
  return `${small[count] ?? String(count)} ${what}${count === 1 ? '' : 's'}`
}
