/** The bars of a cut plan at one scale: where each blank lies, where its mark stands, how much of a coil is drawn. */
import type { Schemas } from '$lib/api/client'
import { length } from '$lib/length.svelte'

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
  says: string
  /** Where a strip begins, from the edge of its sheet. */
  edge: string
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

/** The pieces and strips of a plan, the longest as wide as the room. */
export function bars(made: Schemas['ProposedOut'], room: number): Bar[] {
  const named = new Map(made.lines.map((line) => [line.id, line]))
  const pieces = [
    ...made.plan.pieces.map((one) => ({
      key: one.stock_id,
      title: named.get(one.stock_id)?.called ?? '',
      says: '',
      edge: '',
      rest: named.get(one.stock_id)?.stays ?? '',
      marks: made.marks[one.stock_id] ?? [],
      ...one,
    })),
    ...made.plan.strips.map((one, i) => ({
      key: `${one.sheet_id}/${i}`,
      title: named.get(one.sheet_id)?.called ?? '',
      says: `strip ${length(one.width_mm)} wide`,
      rest: made.rests[`${one.sheet_id}/${i}`] ?? '',
      edge: `${length(one.at_mm)} from the edge`,
      marks: made.marks[`${one.sheet_id}/${i}`] ?? [],
      ...one,
    })),
  ]
  const reach = pieces.map((one) => drawnMm(one.length_mm, one.marks_mm.at(-1) ?? 0))
  const perMm = room / Math.max(1, ...reach)
  return pieces.map((one, i) => {
    const last = one.marks_mm.at(-1) ?? 0
    return {
      key: one.key,
      title: one.title,
      says: one.says,
      edge: one.edge,
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

/** The number of blanks and pieces, as one says it: five blanks from two pieces. */
export function countWords(count: number, what: string): string {
  const small = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine']
  return `${small[count] ?? String(count)} ${what}${count === 1 ? '' : 's'}`
}
