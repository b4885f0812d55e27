/** The finish of a plan as a grid of faces and grits: read from what its steps do, so it holds for every plan. */
import type { Schemas } from './api/client'

type Step = Schemas['Step']

export const FACES = ['inside', 'edges', 'outside'] as const

export interface Column {
  /** The step it is worked at. */
  step: string
  title: string
  /** The faces that are worked there. */
  faces: string[]
}

const AFTER: Record<string, string> = { tumble: 'tumble', patina: 'patina', plate: 'plate' }

/** The faces that a bath or the shot comes to: all, but those that are stopped off. */
function reached(deed: Step['does'][number]): string[] {
  const spares = 'spares' in deed ? (deed.spares ?? []) : []
  return FACES.filter((face) => !spares.includes(face))
}

/** A paper by its number alone: the rest is a word. */
function short(title: string): string {
  return title.replace(/ paper$/i, '').toLowerCase()
}

/** The columns of the grid, in the order of the route; a face that is struck sees no paper but may be touched. */
export function columnsOf(route: Step[]): Column[] {
  const out: Column[] = []
  for (const step of route) {
    const faces: string[] = []
    for (const deed of step.does) {
      if (deed.op === 'finish' && !faces.includes(deed.face)) faces.push(deed.face)
      else if (deed.op in AFTER)
        out.push({ step: step.key, title: AFTER[deed.op] ?? '', faces: reached(deed) })
    }
    if (faces.length) out.push({ step: step.key, title: short(step.title), faces })
  }
  return out
}

/** Whether the faces are worked unlike one another, so that a grid says more than a list. */
export function isUnlike(columns: Column[]): boolean {
  return columns.some(({ faces }) => faces.length > 0 && faces.length < FACES.length)
}

/** What is not done yet of the grits before a step, where a face that it works waits for them. */
export function waitsFor(
  columns: Column[],
  step: string,
  done: { has(key: string): boolean },
): string {
  const at = columns.findIndex((column) => column.step === step)
  const here = columns[at]
  if (!here) return ''
  const open = columns
    .slice(0, at)
    .filter(({ step, faces }) => !done.has(step) && faces.some((face) => here.faces.includes(face)))
  return open.map(({ title }) => title).join(', ')
}
