/** Where things stand along the bench: stations, rings and strips at one scale. */

import type { BenchRing } from '../api/client'

export interface Placed {
  ring: BenchRing
  x: number
  y: number
  shape: 'strip' | 'open' | 'closed'
  outer: number
  inner: number
  length: number
  high: number
  inside: boolean
}

export interface BenchDrawing {
  perMm: number
  stations: { key: string; title: string; x: number; width: number }[]
  placed: Placed[]
  pot: { x: number; width: number; high: number } | null
}

const BIGGEST = 3
const NARROWEST = 84 // px, the widest station's name with a little air
const MARGIN = 26 // px, the pot's walls
const GAP_MM = 2
const LETTER = 7.6
const STRIP_ROW = 40

/** Lay the open jobs out along a bench of this width; y counts upward from the bench's line.
 *
 * Each station is as wide as what stands at it, and the room that is left is shared evenly; where
 * there is not enough, everything is drawn smaller, still at one scale.
 */
export function benchDrawing(
  rings: BenchRing[],
  stations: { key: string; title: string }[],
  width: number,
): BenchDrawing {
  const at = (key: string) => rings.filter((ring) => ring.standing.station === key)
  const wants = stations.map((station) => contentMm(at(station.key)))
  const fixed = stations.length * NARROWEST
  const asked = wants.reduce((a, b) => a + Math.max(0, b * BIGGEST - NARROWEST + MARGIN), 0)
  const perMm = asked + fixed > width ? (BIGGEST * (width - fixed)) / Math.max(asked, 1) : BIGGEST
  const wide = wants.map((mm) => Math.max(NARROWEST, mm * perMm + MARGIN))
  const spare = Math.max(0, width - wide.reduce((a, b) => a + b, 0)) / Math.max(stations.length, 1)
  let from = 0
  const slots = stations.map((station, i) => {
    const share = (wide[i] ?? NARROWEST) + spare
    const slot = { ...station, x: from + share / 2, width: share }
    from += share
    return slot
  })
  const placed = slots.flatMap((slot) => stand(at(slot.key), slot, perMm))
  return { perMm, stations: slots, placed, pot: pot(placed, slots) }
}

/** How many mm of bench the rings of a station take: rings side by side, strips one over another. */
function contentMm(rings: BenchRing[]): number {
  const strips = rings.filter((ring) => ring.standing.shape === 'strip').map((ring) => ring.cut_mm)
  const round = rings
    .filter((ring) => ring.standing.shape !== 'strip')
    .map((ring) => ring.inside_mm + 2 * ring.thickness_mm + GAP_MM)
  return Math.max(
    0,
    ...strips,
    round.reduce((a, b) => a + b, 0),
  )
}

function stand(rings: BenchRing[], slot: { x: number; width: number }, perMm: number): Placed[] {
  const strips = rings.filter((ring) => ring.standing.shape === 'strip')
  const round = rings.filter((ring) => ring.standing.shape !== 'strip')
  const flat = strips.map((ring, i) => flatStrip(ring, slot.x, i, perMm))
  const lift = strips.length * STRIP_ROW
  let from = slot.x - (contentMm(round) * perMm) / 2
  const upright = round.map((ring) => {
    const share = contentMm([ring]) * perMm
    from += share
    return uprightRing(ring, from - share / 2, lift, perMm)
  })
  return [...flat, ...upright]
}

function flatStrip(ring: BenchRing, x: number, row: number, perMm: number): Placed {
  const length = ring.cut_mm * perMm
  const high = Math.max(4, ring.thickness_mm * perMm)
  return {
    ring,
    x,
    y: row * STRIP_ROW,
    shape: 'strip',
    outer: 0,
    inner: 0,
    length,
    high,
    inside: false,
  }
}

function uprightRing(ring: BenchRing, x: number, y: number, perMm: number): Placed {
  const inner = (ring.inside_mm / 2) * perMm
  const outer = inner + ring.thickness_mm * perMm
  const shape = ring.standing.shape === 'open' ? 'open' : 'closed'
  const inside = shortName(ring).length * LETTER < inner * 2 - 8
  return { ring, x, y, shape, outer, inner, length: 2 * outer, high: 2 * outer, inside }
}

function pot(placed: Placed[], slots: { key: string; x: number; width: number }[]) {
  const slot = slots.find((s) => s.key === 'pickle')
  const inPot = placed.filter((p) => p.ring.standing.station === 'pickle')
  if (!slot || !inPot.length) return null
  const left = Math.min(...inPot.map((p) => p.x - p.length / 2))
  const right = Math.max(...inPot.map((p) => p.x + p.length / 2))
  const high = Math.max(...inPot.map((p) => p.y + p.high))
  return { x: slot.x, width: right - left + 22, high: high + 16 }
}

/** The name by which a ring goes on the bench: its customer, or what it is. */
export function shortName(ring: BenchRing): string {
  return ring.customer_name || ring.title
}
