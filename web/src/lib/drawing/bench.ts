/** Where things stand along the bench: stations, rings and strips at one scale, in as few lines as they want. */

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
  /** Where its name stands, if it is written: in the ring, over it, or beside a strip. */
  name: 'inside' | 'over' | 'beside' | ''
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
const LEAST_RING = 28 // px across, the smallest that a ring is drawn
const GOOD = 1.9 // px a mm: one line where it can be so large, else two
const COMFORT = 1.7 // px a mm: on a narrow screen more lines rather than smaller than that
const MOST_LINES = 12
const FINER = 0.96 // from one scale to the next smaller one
const MOST_NAMED = 40 // more names than that leave no room for the rings; each still says its own
const LONGEST_NAME = 16 // letters that are written; the whole name is said when it is pointed at
const LETTER = 7.8 // px, a letter of a name
const STATION_LETTER = 9 // px, a letter of a station's name
const AIR = 20 // px between one station and the next
const MARGIN = 30 // px beside what stands at a station
const POT = 58 // px, the same where the pot stands: its walls lean out
const GAP_MM = 2
const STRIP_ROW = 25 // px, strips with their names beside them
const BARE_ROW = 9 // px, strips without names
const LIFT = 5 // px, so that the lowest name stands clear of the line
const HIGHEST_PILE = 6 // strips with names in a pile
const NAME_HIGH = 26 // px, a name over its ring
const HIGH = 300 // px, how high what has no names is piled
const TIERS = [1, 2, 3] // in how many tiers the rings of a full station stand, tried in this order
const FULL = 120 // px that a tier takes before a station is worth another
const WIDE = 980 // px, from here on stations where nothing stands are drawn too

interface Station {
  key: string
  title: string
}
/** How everything is drawn: one scale, with names or without, full stations in tiers, none wider than most [px]. */
interface How {
  perMm: number
  named: boolean
  tiers: number
  most: number
}

/** The bench in lines one under the other, all at one scale, its stations in their order.
 *
 * One line where its rings can be large, else as few as the smallest ring can be told from the next on. A station that
 * holds many gets more room: its rings stand in tiers, its strips in higher piles, its rings over its strips.
 */
export function benchRows(rings: BenchRing[], stations: Station[], width: number): BenchDrawing[] {
  const shown = width >= WIDE ? stations : stations.filter((one) => standing(rings, one).length)
  const named = rings.length <= MOST_NAMED
  const how: How = { perMm: BIGGEST, named, tiers: 1, most: width }
  const least = leastScale(rings)
  for (const small of width >= WIDE ? [least] : [Math.max(COMFORT, least), least])
    for (let lines = 1; lines <= MOST_LINES; lines += 1)
      for (how.tiers of lines === 1 ? [1] : TIERS) {
        const wanted = Math.min(lines === 1 ? Math.max(GOOD, small) : small, BIGGEST)
        for (how.perMm = BIGGEST; how.perMm >= wanted - 1e-9; how.perMm *= FINER) {
          const cut = linesOf(shown, rings, width, lines, how)
          if (cut) return cut.map((line) => benchDrawing(rings, line, width, how))
        }
      }
  how.perMm = least
  return shown.map((station) => benchDrawing(rings, [station], width, how))
}

/** The scale at which the smallest ring is as small as a ring may be drawn. */
function leastScale(rings: BenchRing[]): number {
  const across = rings.map((ring) => ring.inside_mm + 2 * ring.thickness_mm).filter((mm) => mm > 0)
  return across.length ? Math.min(BIGGEST, LEAST_RING / Math.min(...across)) : BIGGEST
}

/** The stations in at most so many lines, as even as they can be; null where they do not fit. */
function linesOf(
  stations: Station[],
  rings: BenchRing[],
  width: number,
  lines: number,
  how: How,
): Station[][] | null {
  const widths = stations.map((one) => stationWidth(one, standing(rings, one), how))
  let low = Math.max(0, ...widths)
  if (low > width || filled(widths, width).length > lines) return null
  let high = width
  while (high - low > 1) {
    const middle = (low + high) / 2
    if (filled(widths, middle).length > lines) low = middle
    else high = middle
  }
  let at = 0
  return filled(widths, high).map((count) => stations.slice(at, (at += count)))
}

/** How many stations go into each line of this width, one line after the other. */
function filled(widths: number[], width: number): number[] {
  const lines: number[][] = []
  let left = -1
  for (const wide of widths) {
    if (wide > left) {
      lines.push([])
      left = width
    }
    lines[lines.length - 1]?.push(wide)
    left -= wide
  }
  return lines.map((line) => line.length)
}

/** One line of the bench; y counts upward from it. The room that is left is shared evenly. */
function benchDrawing(
  rings: BenchRing[],
  stations: Station[],
  width: number,
  how: How,
): BenchDrawing {
  const groups = stations.map((one) => standing(rings, one))
  const wide = stations.map((one, i) => stationWidth(one, groups[i] ?? [], how))
  const total = wide.reduce((a, b) => a + b, 0)
  const spare = Math.max(0, width - total) / Math.max(stations.length, 1)
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
    pot: pot(placed, slots, how),
  }
}

const standing = (rings: BenchRing[], station: Station) =>
  rings.filter((ring) => standsAt(ring) === station.key)

function stationWidth(station: Station, rings: BenchRing[], how: How): number {
  const titled = station.title.length * STATION_LETTER + AIR
  const stands = laidOut(rings, how).width
  return Math.max(titled, stands ? stands + (station.key === 'pickle' ? POT : MARGIN) : 0)
}

/** What stands at a station: its strips in piles, and its rings in tiers beside them, or over them for want of room. */
interface Laid {
  piles: BenchRing[][]
  tiers: BenchRing[][]
  piled: number
  tiered: number
  beside: boolean
  width: number
}

function laidOut(rings: BenchRing[], how: How): Laid {
  const round = rings.filter((ring) => !isStrip(ring))
  const piles = pilesOf(rings.filter(isStrip), how)
  const piled = pilesWidth(piles, how)
  const room = how.most - POT - piled
  const beside = round.every((ring) => reach(ring, how) <= room)
  const tiers = tiersOf(round, beside ? room : how.most - POT, how)
  const tiered = Math.max(0, ...tiers.map((tier) => tierWidth(tier, how)))
  const width = beside ? piled + tiered : Math.max(piled, tiered)
  return { piles, tiers, piled, tiered, beside, width }
}

const isStrip = (ring: BenchRing) => ring.standing.shape === 'strip'

function parts<T>(all: T[], each: number): T[][] {
  return Array.from({ length: Math.ceil(all.length / each) }, (_, i) =>
    all.slice(i * each, (i + 1) * each),
  )
}

/** Strips in piles, each as high as a pile may be, or as the room makes it needful. */
function pilesOf(strips: BenchRing[], how: How): BenchRing[][] {
  let each = how.named ? HIGHEST_PILE : Math.floor(HIGH / BARE_ROW)
  let piles = parts(strips, each)
  while (each < strips.length && pilesWidth(piles, how) > how.most - POT)
    piles = parts(strips, (each += 1))
  return piles
}

function onePile(pile: BenchRing[], { perMm, named }: How): number {
  const strips = Math.max(0, ...pile.map((ring) => ring.cut_mm * perMm))
  const names = Math.max(0, ...pile.map((ring) => shortName(ring).length * LETTER + 8))
  return strips + (named ? names : 0) + AIR / 2
}

const pilesWidth = (piles: BenchRing[][], how: How) =>
  piles.reduce((sum, pile) => sum + onePile(pile, how), 0)

/** Rings side by side, in tiers where they would take more room than there is. */
function tiersOf(round: BenchRing[], room: number, how: How): BenchRing[][] {
  const full = how.named
    ? Math.min(how.tiers, Math.floor(tierWidth(round, how) / FULL))
    : Math.floor(HIGH / tierHigh(round, how))
  let tiers = Math.max(1, full)
  let cut = parts(round, Math.max(1, Math.ceil(round.length / tiers)))
  while (tiers < round.length && cut.some((tier) => tierWidth(tier, how) > room))
    cut = parts(round, Math.ceil(round.length / (tiers += 1)))
  return cut
}

const tierWidth = (tier: BenchRing[], how: How) =>
  tier.reduce((sum, ring) => sum + reach(ring, how), 0)
const across = (ring: BenchRing, perMm: number) => (ring.inside_mm + 2 * ring.thickness_mm) * perMm
const tierHigh = (round: BenchRing[], { perMm, named }: How) =>
  Math.max(1, ...round.map((ring) => across(ring, perMm))) + (named ? NAME_HIGH : GAP_MM * perMm)

/** The room [px] that a ring takes beside others: itself, or its name where that does not fit inside it. */
function reach(ring: BenchRing, { perMm, named }: How): number {
  const itself = across(ring, perMm) + GAP_MM * perMm
  return !named || namedInside(ring, perMm)
    ? itself
    : Math.max(itself, shortName(ring).length * LETTER + 10)
}

function namedInside(ring: BenchRing, perMm: number): boolean {
  return shortName(ring).length * LETTER < ring.inside_mm * perMm - 8
}

/** Where a ring stands: at its next station, or where it is instead. */
export function standsAt(ring: BenchRing): string {
  return ring.place || ring.standing.station
}

/** Where each thing of a station stands, round its middle. */
function stand(rings: BenchRing[], x: number, how: How): Placed[] {
  const { piles, tiers, piled, tiered, beside, width } = laidOut(rings, how)
  let from = beside ? x - width / 2 : x - piled / 2
  const flat = piles.flatMap((pile) => {
    const left = from
    from += onePile(pile, how)
    return pile.map((ring, row) => flatStrip(ring, left, row, how))
  })
  const middle = beside ? from + tiered / 2 : x
  const highest = Math.max(0, ...piles.map((pile) => pile.length))
  const lift = beside ? 0 : highest * (how.named ? STRIP_ROW : BARE_ROW)
  const tall = tierHigh(tiers.flat(), how)
  const upright = tiers.flatMap((tier, i) => {
    let at = middle - tierWidth(tier, how) / 2
    return tier.map((ring) => {
      const share = reach(ring, how)
      at += share
      return uprightRing(ring, at - share / 2, lift + i * tall, how)
    })
  })
  return [...flat, ...upright]
}

function flatStrip(ring: BenchRing, left: number, row: number, { perMm, named }: How): Placed {
  const length = ring.cut_mm * perMm
  return {
    ring,
    x: left + length / 2,
    y: row * (named ? STRIP_ROW : BARE_ROW) + (named ? LIFT : 0),
    name: named ? 'beside' : '',
    shape: 'strip',
    outer: 0,
    inner: 0,
    length,
    high: Math.max(4, ring.thickness_mm * perMm),
  }
}

function uprightRing(ring: BenchRing, x: number, y: number, { perMm, named }: How): Placed {
  const inner = (ring.inside_mm / 2) * perMm
  const outer = inner + ring.thickness_mm * perMm
  const shape = ring.standing.shape === 'open' ? 'open' : 'closed'
  const name = !named ? '' : namedInside(ring, perMm) ? 'inside' : 'over'
  return { ring, x, y, shape, outer, inner, length: 2 * outer, high: 2 * outer, name }
}

function pot(placed: Placed[], slots: { key: string; x: number; width: number }[], how: How) {
  const slot = slots.find((s) => s.key === 'pickle')
  const inPot = placed.filter((p) => standsAt(p.ring) === 'pickle')
  if (!slot || !inPot.length) return null
  const letters = (p: Placed) => shortName(p.ring).length * LETTER
  const half = (p: Placed) => Math.max(p.length, p.name === 'over' ? letters(p) : 0) / 2
  const right = (p: Placed) => p.x + half(p) + (p.name === 'beside' ? letters(p) + 8 : 0)
  const left = Math.min(...inPot.map((p) => p.x - half(p)))
  const wide = Math.max(...inPot.map(right)) - left
  const named = how.named ? NAME_HIGH : 0
  const high = Math.max(...inPot.map((p) => p.y + p.high + (p.name === 'over' ? named : 0)))
  return { x: left + wide / 2, width: wide + 22, high: high + 14 }
}

/** The name by which a ring goes on the bench: its customer, or what it is; a long one is cut. */
export function shortName(ring: BenchRing): string {
  const whole = ring.customer_name || ring.title
  const letters = [...whole]
  return letters.length > LONGEST_NAME
    ? `${letters
        .slice(0, LONGEST_NAME - 1)
        .join('')
        .trimEnd()}…`
    : whole
}
