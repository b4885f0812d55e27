/** How a ring is held in the flame, as it is typed, and how it is asked. */
import type { Schemas } from '$lib/api/client'

export type Fields = Record<string, string>
export type HeatRequest = Schemas['HeatRequest']
interface Known {
  heat: Record<string, unknown> | null
  apart_mm: number
}
interface KnownSeam {
  key: string
  title: string
  at_mm: number
}
export const ALONE = 'alone'
export const BOTH = 'both'
const LIMIT_DEG = 180

export const seamsOf = (known: Known): KnownSeam[] => (known.heat?.seams ?? []) as KnownSeam[]

const text = (value: unknown): string =>
  typeof value === 'number'
    ? String(Math.round(value * 100) / 100)
    : typeof value === 'string'
      ? value
      : ''

/** The words of a ring that nobody has held otherwise yet. */
export function fresh(known: Known, typed: (mm: number) => string): Fields {
  const heat = known.heat ?? {}
  return {
    water_share: text(heat.water_share),
    roll_deg: '0',
    insert: ALONE,
    flow_c: text(heat.flow_c),
    tweezers_mm: '',
    stone: text(heat.stone),
    flux: text(heat.flux),
    ...Object.fromEntries(
      seamsOf(known).map((seam, i) => [
        `seams.${i}.at_mm`,
        typed(Math.round(seam.at_mm * 10) / 10),
      ]),
    ),
  }
}

/** What was typed over what is known, as the request takes it. */
export function toRequest(known: Known, fields: Fields, units: string): HeatRequest {
  const said = (name: string) => fields[name]?.trim() || null
  const both = fields.insert === BOTH
  const seams = seamsOf(known).map((seam, i) => ({ ...seam, at_mm: said(`seams.${i}.at_mm`) ?? 0 }))
  return {
    ...known.heat,
    units,
    water_share: said('water_share'),
    roll_deg: said('roll_deg') ?? 0,
    insert_mm: both ? known.apart_mm : 0,
    flow_c: said('flow_c') ?? '',
    tweezers_mm: said('tweezers_mm'),
    stone: said('stone'),
    flux: said('flux'),
    seams,
  } as unknown as HeatRequest
}

/** The roll after a key or a drag: whole degrees, no further than half a turn. */
export function rolled(roll: string | undefined, by: number): string {
  const now = Number(roll?.replace(',', '.').replace('°', '')) || 0
  return String(Math.max(-LIMIT_DEG, Math.min(LIMIT_DEG, Math.round(now + by))))
}

const round = (figure: number) => Math.round(figure * 100) / 100

/** A place on a ring at an angle clockwise from straight above. */
export function place(radius: number, deg: number): { x: number; y: number } {
  const turn = (deg * Math.PI) / 180
  return { x: round(radius * Math.sin(turn)), y: round(-radius * Math.cos(turn)) }
}

/** A stretch of a band between two angles as SVG path data. */
export function stretch(inner: number, outer: number, from: number, to: number): string {
  const span = to - from
  if (span > 359.9)
    return `${stretch(inner, outer, from, from + 180)}${stretch(inner, outer, from + 180, from + 360)}`
  const far = span > 180 ? 1 : 0
  const [a, b] = [place(outer, from), place(outer, to)]
  const [c, d] = [place(inner, to), place(inner, from)]
  return `M${a.x} ${a.y}A${outer} ${outer} 0 ${far} 1 ${b.x} ${b.y}L${c.x} ${c.y}A${inner} ${inner} 0 ${far} 0 ${d.x} ${d.y}Z`
}
