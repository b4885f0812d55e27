/** Framework-free geometry shared by the drawings: everything to scale, mm in, pixels out. */

import type { Schemas } from '../api/client'
import { leftmost, needsWidth } from './paths'

export interface Tick {
  mm: number
  x: number
  kind: 'ten' | 'five' | 'one'
  /** The number at a longest mark: centimetres in mm, or whole inches. */
  says: string
}

/** A rule's divisions: the step [mm], how many of them to a long and to a middling mark. */
const RULES = { mm: { step: 1, long: 10, middle: 5 }, in: { step: 25.4 / 16, long: 16, middle: 4 } }

/** The marks of a ruler from nought to a length [mm] at so many pixels a millimetre: millimetres, or sixteenths. */
export function ruler(
  lengthMm: number,
  perMm: number,
  x0: number,
  units: keyof typeof RULES = 'mm',
): Tick[] {
  const { step, long, middle } = RULES[units]
  const ticks: Tick[] = []
  for (let n = 0; n * step <= lengthMm + 1e-9; n += 1) {
    const kind = n % long === 0 ? 'ten' : n % middle === 0 ? 'five' : 'one'
    const says = kind === 'ten' ? String(units === 'in' ? n / long : n) : ''
    ticks.push({ mm: n * step, x: x0 + n * step * perMm, kind, says })
  }
  return ticks
}

export interface Span {
  key: string
  x: number
  width: number
  off: boolean
}

export interface StripMark {
  key: string
  x: number
  text: string
  handle: Schemas['Handle'] | null
}

export interface StripDrawing {
  perMm: number
  x0: number
  cutX: number
  endX: number
  height: number
  truncated: boolean
  spans: Span[]
  marks: StripMark[]
  ticks: Tick[]
}

export interface StripRoom {
  width: number
  x0: number
  /** The tallest that a strip may be drawn; where its whole width must be seen it is drawn smaller instead. */
  tallest?: number
  /** The units of its ruler. */
  units?: 'mm' | 'in'
  /** Dots a millimetre, where several strips share one scale or true size is asked for. */
  perMm?: number
}

const TALLEST = 104
const LOWEST = 10
const WASTE = 1.05

/** How much of the ruler a blank needs: its cut, what lies beyond it, and a little waste. */
export function shownMm(blank: Schemas['Blank']): number {
  const furthest = Math.max(blank.cut_length_mm, ...blank.stretches.map((s) => s.to_mm))
  const ghosts = blank.drawing.shapes
    .filter((shape) => shape.tone === 'ghost')
    .flatMap((shape) => shape.paths.flat().map((point) => point[0] ?? 0))
  const held = Math.min(furthest, blank.cut_length_mm * WASTE)
  return Math.max(held * WASTE + 1, ...ghosts)
}

/** The scale at which these blanks fill the width together, none wider than may be seen. */
export function commonScale(blanks: Schemas['Blank'][], room: StripRoom): number {
  const lengths = blanks.map((blank) => shownMm(blank) - leftmost(blank.drawing))
  // a part that is just coming or going has no width for a moment
  const perMm = Math.max(room.width - room.x0, 1) / Math.max(...lengths)
  const tallest = room.tallest ?? TALLEST
  const wide = blanks.filter((b) => needsWidth(b.drawing)).map((b) => tallest / b.width_mm)
  return Math.min(perMm, ...wide)
}

/** A blank as a strip on its ruler, with a little waste beyond the cut. */
export function strip(blank: Schemas['Blank'], room: StripRoom): StripDrawing {
  const perMm = room.perMm ?? commonScale([blank], room)
  const x0 = room.x0 - leftmost(blank.drawing) * perMm
  const high = blank.width_mm * perMm
  const tallest = room.tallest ?? TALLEST
  const whole = needsWidth(blank.drawing)
  const shown = Math.max(0, Math.min(shownMm(blank), (room.width - x0) / perMm))
  return {
    perMm,
    x0,
    cutX: x0 + blank.cut_length_mm * perMm,
    endX: x0 + shown * perMm,
    height: Math.max(LOWEST, whole ? high : Math.min(tallest, high)),
    truncated: high > tallest && !whole,
    spans: blank.stretches.map((s) => ({
      key: s.key,
      x: x0 + s.from_mm * perMm,
      width: (s.to_mm - s.from_mm) * perMm,
      off: s.off,
    })),
    marks: blank.marks.map((m) => ({
      key: m.key,
      x: x0 + m.x_mm * perMm,
      text: m.text,
      handle: m.handle ?? null,
    })),
    ticks: ruler(shown, perMm, x0, room.units),
  }
}

/** What a field becomes when its mark is moved by so many mm: within its ends, in its own steps. */
export function moved(handle: Schemas['Handle'], byMm: number): number {
  const value = handle.value + byMm * handle.per_mm
  const held = Math.min(handle.high, Math.max(handle.low, value))
  return Math.round(held * 100) / 100
}

export interface SectionDrawing {
  path: string
  neutralY: number
  baseY: number
  left: number
  right: number
  times: number
}

const CSS_PX_PER_MM = 96 / 25.4

/** A section fitted into a box, standing on the finger, true in its proportions. */
export function section(
  shape: Schemas['Section'],
  box: { width: number; height: number },
): SectionDrawing {
  const perMm = Math.min(box.width / shape.width_mm, box.height / shape.thickness_mm)
  const middle = box.width / 2
  const points = shape.outline as [number, number][]
  const path = points
    .map(
      ([x, y], i) =>
        `${i ? 'L' : 'M'}${(middle + x * perMm).toFixed(2)} ${(box.height - y * perMm).toFixed(2)}`,
    )
    .join('')
  return {
    path: `${path}Z`,
    neutralY: box.height - shape.neutral_mm * perMm,
    baseY: box.height,
    left: middle - (shape.width_mm / 2) * perMm,
    right: middle + (shape.width_mm / 2) * perMm,
    times: perMm / CSS_PX_PER_MM,
  }
}

export interface TaperDrawing {
  x: (diameterMm: number) => number
  half: (diameterMm: number) => number
}

/** A stretch of mandrel lying on its side: position along it and half its height, by diameter. */
export function taper(
  marks: { diameter_mm: number }[],
  width: number,
  height: number,
): TaperDrawing {
  const first = marks[0]?.diameter_mm ?? 10
  const last = marks[marks.length - 1]?.diameter_mm ?? 11
  const pad = 22
  const along = (width - 2 * pad) / (last - first || 1)
  return {
    x: (mm) => pad + (mm - first) * along,
    half: (mm) => (height / 2) * (0.6 + 0.4 * ((mm - first) / (last - first || 1))),
  }
}

/** An arc of a ring with a gap at the top, as an SVG path; no gap gives the whole ring. */
export function ringPath(
  cx: number,
  cy: number,
  inner: number,
  outer: number,
  gapDeg: number,
): string {
  if (gapDeg <= 0) {
    const circle = (r: number, sweep: number) =>
      `M${cx - r} ${cy}A${r} ${r} 0 1 ${sweep} ${cx + r} ${cy}A${r} ${r} 0 1 ${sweep} ${cx - r} ${cy}Z`
    return circle(outer, 1) + circle(inner, 0)
  }
  const half = (gapDeg / 2) * (Math.PI / 180)
  const at = (r: number, a: number) => `${cx + r * Math.sin(a)} ${cy - r * Math.cos(a)}`
  return (
    `M${at(outer, half)}A${outer} ${outer} 0 1 1 ${at(outer, -half)}` +
    `L${at(inner, -half)}A${inner} ${inner} 0 1 0 ${at(inner, half)}Z`
  )
}
