/** Paths of straight pieces and arcs, as ringcraft draws them: points of x, y [mm] and the bulge to the next. */

import type { Schemas } from '../api/client'

export type Path = number[][]
export type Drawing = Schemas['Drawing']

const FLAT = 1e-12

/** A path as SVG path data in mm, y turned to run downward from nought. */
export function pathData(path: Path, closed: boolean): string {
  const [first] = path
  if (!first) return ''
  const out = [`M${place(first)}`]
  path.forEach((start, i) => {
    const end = path[i + 1] ?? (closed ? first : undefined)
    if (!end) return
    const bulge = start[2] ?? 0
    if (Math.abs(bulge) < FLAT) out.push(`L${place(end)}`)
    else {
      const radius = radiusOf(start, end)
      out.push(
        `A${radius.toFixed(4)} ${radius.toFixed(4)} 0 ${Math.abs(bulge) > 1 ? 1 : 0} ${bulge < 0 ? 1 : 0} ${place(end)}`,
      )
    }
  })
  return out.join('') + (closed ? 'Z' : '')
}

/** A shape with its holes as one path, to be filled by the even-odd rule. */
export function shapeData(shape: Schemas['Shape']): string {
  return shape.paths.map((path) => pathData(path, true)).join('')
}

function place(point: number[]): string {
  return `${(point[0] ?? 0).toFixed(4)} ${(-(point[1] ?? 0)).toFixed(4)}`
}

function radiusOf(start: number[], end: number[]): number {
  const bulge = Math.abs(start[2] ?? 0)
  const chord = Math.hypot((end[0] ?? 0) - (start[0] ?? 0), (end[1] ?? 0) - (start[1] ?? 0))
  return (chord * (1 + bulge ** 2)) / (4 * bulge)
}

/** How far left of nought a drawing begins: where an offcut lies before the square end. */
export function leftmost(drawing: Drawing): number {
  const xs = drawing.shapes.flatMap((shape) => shape.paths.flat().map((point) => point[0] ?? 0))
  return Math.min(0, ...xs)
}

/** Whether the whole width must be seen: where something lies along the strip or its edges are not straight. */
export function needsWidth(drawing: Drawing): boolean {
  const along = drawing.lines.some((line) => (line.path[0]?.[1] ?? 0) === (line.path[1]?.[1] ?? 1))
  const curved = drawing.shapes.some((shape) => shape.paths.flat().some((point) => point[2]))
  return along || curved || drawing.labels.length > 0
}
