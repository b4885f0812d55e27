/** Pots and tumblers as lines: what is in them, until when, and names that stand beside their lines. */
import type { Schemas } from '$lib/api/client'
import { clock as hour } from '$lib/text'
import { lanes, type Span } from './hours'

export const LETTER = 7.2
export const LANE = 18
const LEAST_LANES = 2
const UNDER = 14

export interface Scale {
  whole: Span
  /** From a time to its place, and how many pixels a millisecond is. */
  x: (at: number) => number
  perMs: number
  width: number
}

/** How a name is told in a drawing: the customer's alone. */
export const short = (name: string) => name.split(',')[0] ?? name

/** Whether a name at a place would run over the right edge. */
export const turned = (scale: Scale, at: number, text: string) =>
  at + text.length * LETTER > scale.width - 4

/** The vessels one under the other, from a height on, and how deep they are together. */
export function inVessels(vessels: Schemas['Vessel'][], scale: Scale, top: number) {
  const { whole } = scale
  const inside = (at: number) => Math.min(Math.max(at, whole.begins), whole.ends)
  let y = top
  const rows = vessels.map((one) => {
    const rings = lanes(one.rings.map((ring) => ringOf(ring, scale, inside)))
    const row = { name: one.name, holds: one.holds, rings, y }
    y += Math.max(LEAST_LANES, ...rings.map((ring) => ring.lane + 1)) * LANE + UNDER
    return row
  })
  return { rows, bottom: y }
}

function ringOf(ring: Schemas['InVessel'], scale: Scale, inside: (at: number) => number) {
  const until = Date.parse(ring.ends)
  const begins = inside(Date.parse(ring.begins))
  const end = inside(until)
  const out = until > scale.whole.ends ? `, out at ${hour(new Date(until))}` : ''
  const text = `${short(ring.name)}${out}`
  const room = (text.length * LETTER + 16) / scale.perMs
  const before = turned(scale, scale.x(end) + 6, text)
  return {
    family: ring.family,
    text,
    before,
    from: begins,
    to: end,
    begins: before ? begins - room : begins,
    ends: before ? end : end + room,
  }
}
