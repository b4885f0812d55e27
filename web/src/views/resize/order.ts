/** The words of a ring that comes in, and the request behind them. */
import type { Job, ResizeOrder, Schemas } from '$lib/api/client'
import { onSheet } from '../ring/labels'
import {
  asTyped,
  freshWords,
  KEPT_GAUGE,
  keptWords,
  needsOf,
  setPath,
  type Data,
  type Words,
} from '../ring/order'

/** The other side of the mandrel, and a gauge of its own for the wanted size: not fields of the request as they are. */
export const OTHER_SIDE = '@other_side'
export const TO_GAUGE = '@to_gauge'
/** Under which the wanted size is read on no gauge of ours, though the present one is. */
export const IDEAL_GAUGE = 'ideal'

type Fields = Record<string, string>

/** What a new sheet begins with in this shop. */
export function first(ways: Schemas['Preferences']): Words {
  return freshWords({
    from: '',
    [OTHER_SIDE]: '',
    daylight: 'no',
    to: '',
    [TO_GAUGE]: '',
    metal: 'gold-14k-yellow',
    'shank.profile': 'half-round',
    'shank.width_mm': '',
    'shank.thickness_mm': '',
    'shank.side_mm': '',
    'shank.thinnest_mm': '',
    'head.span_mm': '',
    'pattern.pitch_mm': '',
    'pattern.at': 'outside',
    seam_open: 'no',
    method: '',
    override_reason: '',
    'join.blade': ways.blade,
    'join.saw_passes': String(ways.saw_passes),
    'join.seam_passes': '0',
    'join.faces_mm': '',
    'piece.length_mm': '',
    'piece.width_mm': '',
    'piece.thickness_mm': '',
    'piece.at': 'neutral',
    'tested.mark': '',
    'tested.magnet': '',
    'tested.touch': '',
    offcut: 'returned',
  })
}

const list = (fields: Fields, path: (place: number) => string) => {
  const out: number[] = []
  for (let i = 0; fields[path(i)]; i += 1) out.push(i)
  return out
}
export const stones = (fields: Fields) => list(fields, (i) => `stones.${i}.kind`)
export const features = (fields: Fields) => list(fields, (i) => `features.${i}`)
export const has = (fields: Fields, feature: string) =>
  features(fields).some((i) => fields[`features.${i}`] === feature)

const STONE = ['kind', 'setting', 'state', 'from_joint_mm']

/** One entry of a list chosen; an empty one goes, and those after it move up. */
export function setStone(fields: Fields, place: number, kind: string): Fields {
  if (kind) {
    const begun = { [`stones.${place}.setting`]: 'claw', [`stones.${place}.state`]: '' }
    return { ...begun, ...fields, [`stones.${place}.kind`]: kind }
  }
  return without(fields, place, stones(fields).length, (i) =>
    STONE.map((name) => `stones.${i}.${name}`),
  )
}

export function setFeature(fields: Fields, place: number, key: string): Fields {
  if (key) return { ...fields, [`features.${place}`]: key }
  return without(fields, place, features(fields).length, (i) => [`features.${i}`])
}

function without(fields: Fields, place: number, count: number, paths: (i: number) => string[]) {
  const gone = new Set([...Array(count - place).keys()].flatMap((i) => paths(place + i)))
  const out = Object.fromEntries(Object.entries(fields).filter(([path]) => !gone.has(path)))
  for (let i = place; i + 1 < count; i += 1) {
    const next = paths(i + 1)
    paths(i).forEach((path, n) => {
      const value = fields[next[n] ?? '']
      if (value !== undefined) out[path] = value
    })
  }
  return out
}

export interface Around {
  catalogue: Schemas['Catalogue']
  ways: Schemas['Preferences']
  jobId: number | null
  gauge: Schemas['GaugeRequest'] | null
  toGauge: Schemas['GaugeRequest'] | null
}

/** The request behind the words; what is left empty takes ringcraft's default. */
export function toOrder(words: Words, around: Around): ResizeOrder {
  const { fields } = words
  const said = (path: string) => (fields[path] ?? '').trim()
  const order: Data = {
    from: said('from'),
    to: said('to'),
    metal: said('metal'),
    shank: {},
    daylight: said('daylight') === 'yes',
    seam_open: said('seam_open') === 'yes',
    from_gauge: around.gauge,
    to_gauge: around.toGauge,
  }
  const put = (path: string) => {
    if (said(path)) setPath(order, path, said(path))
  }
  if (said(OTHER_SIDE)) order.from_sides = [said('from'), said(OTHER_SIDE)]
  const needs = needsOf(said('shank.profile'), around.catalogue)
  put('shank.profile')
  for (const name of ['thickness_mm', ...needs.filter((one) => one === 'width_mm')])
    setPath(order, `shank.${name}`, said(`shank.${name}`))
  if (needs.includes('side_mm')) put('shank.side_mm')
  for (const path of ['shank.thinnest_mm', 'head.span_mm', 'method', 'override_reason', 'offcut'])
    put(path)
  for (const name of ['blade', 'saw_passes', 'seam_passes', 'faces_mm']) put(`join.${name}`)
  order.stones = stones(fields).map((i) => stone(fields, i))
  order.features = features(fields).map((i) => fields[`features.${i}`])
  if (has(fields, 'pattern-all-round') && said('pattern.pitch_mm')) {
    put('pattern.pitch_mm')
    put('pattern.at')
  }
  for (const name of ['length_mm', 'width_mm', 'thickness_mm'])
    if (said('piece.length_mm')) put(`piece.${name}`)
  if (said('piece.length_mm')) put('piece.at')
  const tested = ['mark', 'magnet', 'touch'].filter((name) => said(`tested.${name}`))
  for (const name of tested) put(`tested.${name}`)
  return Object.assign(order, asTyped(words, around)) as unknown as ResizeOrder
}

function stone(fields: Fields, i: number): Data {
  const state = fields[`stones.${i}.state`] ?? ''
  const far = (fields[`stones.${i}.from_joint_mm`] ?? '').trim()
  return {
    kind: fields[`stones.${i}.kind`],
    setting: fields[`stones.${i}.setting`] ?? 'claw',
    glued: state.includes('glued'),
    treated: state.includes('treated'),
    ...(far ? { from_joint_mm: far } : {}),
  }
}

/** The words of a kept job, to change it: its order as this shop would type it. */
export function fromJob(job: Job, due: string, ways: Schemas['Preferences']): Words {
  const order = job.order as Data
  const blank = Object.fromEntries(Object.keys(first(ways).fields).map((path) => [path, '']))
  const fields: Fields = {
    ...blank,
    'pattern.at': 'outside',
    'piece.at': 'neutral',
    ...lines(job.fields),
  }
  const sides = order.from_sides as string[] | null
  if (sides) Object.assign(fields, { from: sides[0], [OTHER_SIDE]: sides[1] })
  ;((order.stones ?? []) as Schemas['Stone'][]).forEach((one, i) => {
    fields[`stones.${i}.state`] = [one.treated && 'treated', one.glued && 'glued']
      .filter(Boolean)
      .join('-')
  })
  const same = JSON.stringify(order.from_gauge) === JSON.stringify(order.to_gauge)
  fields[TO_GAUGE] = same ? '' : order.to_gauge ? KEPT_GAUGE : IDEAL_GAUGE
  return keptWords(job, due, order.from_gauge ? KEPT_GAUGE : '', fields)
}

/** Fields of a kept order: lists of texts come as one line each. */
function lines(kept: Fields): Fields {
  const out: Fields = {}
  for (const [path, value] of Object.entries(kept)) {
    if (path === 'features') value.split(' / ').forEach((one, i) => (out[`features.${i}`] = one))
    else out[path] = value
  }
  return out
}

/** The labels of everything on this sheet: those of the order, and of what the sheet says in words of its own. */
export function labelsOf({ labels }: Pick<Schemas['Catalogue'], 'labels'>): Fields {
  const order = labels.resize ?? {}
  const own = {
    [OTHER_SIDE]: 'from the other side',
    [TO_GAUGE]: order.to_gauge ?? '',
    'stones.state': 'state, stone',
    'stones.glued': '', // both are in its state
    'stones.treated': '',
  }
  return { ...onSheet({ ...order, ...own }), gauge: order.from_gauge ?? '' }
}
