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

const STRIP_STATIONS = new Set(['measure', 'cut', 'anneal', 'form'])
const STRIP_SHARE = 1.7
const BIGGEST = 3
const LETTER = 7.6
const STRIP_ROW = 40

/** Lay the open jobs out along a bench of this width; y counts upward from the bench's line. */
export function benchDrawing(
  rings: BenchRing[],
  stations: { key: string; title: string }[],
  width: number,
): BenchDrawing {
  const shares = stations.map((s) => (STRIP_STATIONS.has(s.key) ? STRIP_SHARE : 1))
  const share = width / shares.reduce((a, b) => a + b, 0)
  const longest = Math.max(60, ...rings.map((ring) => ring.cut_mm))
  const perMm = Math.min(BIGGEST, (share * STRIP_SHARE - 8) / longest)
  let from = 0
  const slots = stations.map((station, i) => {
    const wide = (shares[i] ?? 1) * share
    const slot = { ...station, x: from + wide / 2, width: wide }
    from += wide
    return slot
  })
  const placed = slots.flatMap((slot) =>
    stand(
      rings.filter((ring) => ring.standing.station === slot.key),
      slot,
      perMm,
    ),
  )
  return { perMm, stations: slots, placed, pot: pot(placed, slots) }
}

function stand(rings: BenchRing[], slot: { x: number; width: number }, perMm: number): Placed[] {
  const strips = rings.filter((ring) => ring.standing.shape === 'strip')
  const round = rings.filter((ring) => ring.standing.shape !== 'strip')
  const flat = strips.map((ring, i) => flatStrip(ring, slot.x, i, perMm))
  const lift = strips.length * STRIP_ROW
  const widest = Math.max(
    0,
    ...round.map((ring) => (ring.inside_mm + 2 * ring.thickness_mm) * perMm),
  )
  const step = Math.min(widest + 8, (slot.width - widest) / Math.max(round.length - 1, 1))
  const upright = round.map((ring, i) =>
    uprightRing(ring, slot.x + (i - (round.length - 1) / 2) * step, lift, perMm),
  )
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
