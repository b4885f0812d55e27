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
  named: boolean
}

export interface BenchDrawing {
  /** As wide as was asked for, or as what stands there needs at the smallest scale. */
  width: number
  perMm: number
  stations: { key: string; title: string; x: number; width: number }[]
  placed: Placed[]
  pot: { x: number; width: number; high: number } | null
}

const BIGGEST = 3 // px a mm: the largest scale the bench is drawn at
const SMALLEST = 0.6
const COMFORT = 1.7 // px a mm: small, and a ring can still be told from the next
const WIDE = 980 // px, from here on the bench is one line
const FINER = 0.96 // from one scale to the next smaller one
const MOST_NAMED = 40 // more names than that leave no room for the rings; each still says its own
const BARE = 0.9 // px a mm, where rings stand without their names
const LETTER = 7.6 // px, a letter of a name
const STATION_LETTER = 9 // px, a letter of a station's name
const AIR = 18 // px between one station's name and the next
const MARGIN = 26 // px, the pot's walls
const GAP_MM = 2
const STRIP_ROW = 40
const BARE_ROW = 9 // px, strips without names
const LOW = 60 // px, how high they pile at first
const HIGH = 300

interface Station {
  key: string
  title: string
}
/** How everything is drawn: one scale, with names or without, piled so high [px] before the next stands beside. */
interface How {
  perMm: number
  named: boolean
  high: number
}

/** Lay the open jobs out along a bench of this width; y counts upward from the bench's line.
 *
 * Each station is as wide as what stands at it, its rings as far apart as their names need, and the room that is left is
 * shared evenly. Where there is not enough, everything is drawn smaller, still at one scale; many rings stand without
 * their names, piled as high as the width makes it needful.
 */
export function benchDrawing(
  rings: BenchRing[],
  stations: Station[],
  width: number,
  biggest = BIGGEST,
): BenchDrawing {
  const groups = stations.map((one) => rings.filter((ring) => standsAt(ring) === one.key))
  const widths = (how: How) => stations.map((one, i) => stationWidth(one, groups[i] ?? [], how))
  const total = (how: How) => widths(how).reduce((a, b) => a + b, 0)
  const named = rings.length <= MOST_NAMED
  const how: How = { perMm: named ? biggest : Math.min(BARE, biggest), named, high: LOW }
  while (!named && how.high < HIGH && total(how) > width) how.high += BARE_ROW
  while (how.perMm > SMALLEST && total(how) > width) how.perMm *= FINER
  const wide = widths(how)
  const spare = Math.max(0, width - total(how)) / Math.max(stations.length, 1)
  let from = 0
  const slots = stations.map((station, i) => {
    const share = (wide[i] ?? 0) + spare
    const slot = { ...station, x: from + share / 2, width: share }
    from += share
    return slot
  })
  const placed = slots.flatMap((slot, i) => stand(groups[i] ?? [], slot.x, how))
  return {
    width: Math.max(width, from),
    perMm: how.perMm,
    stations: slots,
    placed,
    pot: pot(placed, slots),
  }
}

/** The bench on a narrow screen: folded into rows one under the other, all at one scale.
 *
 * Stations where nothing stands are left out; each row holds as many as fit with their rings at a scale that can be
 * told apart. On a wide screen it is one row.
 */
export function benchRows(rings: BenchRing[], stations: Station[], width: number): BenchDrawing[] {
  if (width >= WIDE) return [benchDrawing(rings, stations, width)]
  const named = rings.length <= MOST_NAMED
  const how: How = { perMm: named ? COMFORT : BARE, named, high: named ? LOW : HIGH }
  const rows: Station[][] = []
  let left = 0
  for (const station of stations) {
    const here = rings.filter((ring) => standsAt(ring) === station.key)
    if (!here.length) continue
    const need = stationWidth(station, here, how)
    if (!rows.length || need > left) {
      rows.push([])
      left = width
    }
    rows[rows.length - 1]?.push(station)
    left -= need
  }
  const groups = rows.map((row) => ({
    row,
    here: rings.filter((ring) => row.some((one) => one.key === standsAt(ring))),
  }))
  const first = groups.map(({ row, here }) => benchDrawing(here, row, width))
  const scale = Math.min(...first.map((one) => one.perMm))
  return groups.map(({ row, here }) => benchDrawing(here, row, width, scale))
}

function stationWidth(station: Station, rings: BenchRing[], how: How): number {
  const named = station.title.length * STATION_LETTER + AIR
  const { strips, round } = shapes(rings)
  const across = rowsOf(round, how).map((row) => rowWidth(row, how))
  const stands = Math.max(0, ...across, columnsOf(strips, how).length * columnWidth(strips, how))
  return Math.max(named, stands ? stands + MARGIN : 0)
}

function shapes(rings: BenchRing[]) {
  const isStrip = (ring: BenchRing) => ring.standing.shape === 'strip'
  return { strips: rings.filter(isStrip), round: rings.filter((ring) => !isStrip(ring)) }
}

function parts<T>(all: T[], each: number): T[][] {
  return Array.from({ length: Math.ceil(all.length / each) }, (_, i) =>
    all.slice(i * each, (i + 1) * each),
  )
}

const tallest = (round: BenchRing[], how: How) =>
  Math.max(1, ...round.map((ring) => reach(ring, { ...how, named: false })))
/** Rings in rows, as many rows as the pile is high. */
function rowsOf(round: BenchRing[], how: How): BenchRing[][] {
  const rows = how.named ? 1 : Math.max(1, Math.floor(how.high / tallest(round, how)))
  return parts(round, Math.max(1, Math.ceil(round.length / rows)))
}
/** Strips in columns, each as high as the pile. */
const columnsOf = (strips: BenchRing[], how: How) =>
  parts(strips, how.named ? Math.max(1, strips.length) : Math.floor(how.high / BARE_ROW))
const rowWidth = (row: BenchRing[], how: How) =>
  row.reduce((sum, ring) => sum + reach(ring, how), 0)
const columnWidth = (strips: BenchRing[], how: How) =>
  Math.max(0, ...strips.map((ring) => ring.cut_mm * how.perMm)) + (how.named ? 0 : GAP_MM)

/** The room [px] that a ring takes beside others: itself, or its name where that does not fit inside it. */
function reach(ring: BenchRing, { perMm, named }: How): number {
  const across = (ring.inside_mm + 2 * ring.thickness_mm + GAP_MM) * perMm
  return !named || namedInside(ring, perMm)
    ? across
    : Math.max(across, shortName(ring).length * LETTER + 8)
}

function namedInside(ring: BenchRing, perMm: number): boolean {
  return shortName(ring).length * LETTER < ring.inside_mm * perMm - 8
}

/** Where a ring stands: at its next station, or where it is instead. */
export function standsAt(ring: BenchRing): string {
  return ring.place || ring.standing.station
}

/** What stands at one station: strips at the bottom, rings in rows over them. */
function stand(rings: BenchRing[], x: number, how: How): Placed[] {
  const { strips, round } = shapes(rings)
  const columns = columnsOf(strips, how)
  const wide = columnWidth(strips, how)
  const first = x - ((columns.length - 1) * wide) / 2
  const flat = columns.flatMap((column, i) =>
    column.map((ring, row) => flatStrip(ring, first + i * wide, row, how)),
  )
  const lift =
    Math.max(0, ...columns.map((column) => column.length)) * (how.named ? STRIP_ROW : BARE_ROW)
  const tall = tallest(round, how)
  const upright = rowsOf(round, how).flatMap((row, i) => {
    let from = x - rowWidth(row, how) / 2
    return row.map((ring) => {
      const share = reach(ring, how)
      from += share
      return uprightRing(ring, from - share / 2, lift + i * tall, how)
    })
  })
  return [...flat, ...upright]
}

function flatStrip(ring: BenchRing, x: number, row: number, { perMm, named }: How): Placed {
  const length = ring.cut_mm * perMm
  const high = Math.max(4, ring.thickness_mm * perMm)
  return {
    ring,
    x,
    y: row * (named ? STRIP_ROW : BARE_ROW),
    named,
    shape: 'strip',
    outer: 0,
    inner: 0,
    length,
    high,
    inside: false,
  }
}

function uprightRing(ring: BenchRing, x: number, y: number, { perMm, named }: How): Placed {
  const inner = (ring.inside_mm / 2) * perMm
  const outer = inner + ring.thickness_mm * perMm
  const shape = ring.standing.shape === 'open' ? 'open' : 'closed'
  const inside = namedInside(ring, perMm)
  const high = 2 * outer
  return { ring, x, y, shape, outer, inner, length: high, high, inside, named }
}

function pot(placed: Placed[], slots: { key: string; x: number; width: number }[]) {
  const slot = slots.find((s) => s.key === 'pickle')
  const inPot = placed.filter((p) => standsAt(p.ring) === 'pickle')
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
