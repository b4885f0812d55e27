/** The words of a ring to make, and the request behind them. */
import type { Catalogue, Job, Order, Schemas } from '$lib/api/client'
import { typed } from '$lib/length.svelte'
import { onSheet } from '../sheet/labels'
import {
  asTyped,
  chosenKey,
  countKey,
  freshWords,
  keptWords,
  putStock,
  putText,
  putWord,
  setPath,
  wordFields,
  type Asked,
  type Data,
  type Fields,
  type Words,
  type WordSpec,
} from '../sheet/order'

export type StyleSpec = Schemas['StyleChoice']

const JOIN = ['join.saw_passes', 'join.blade', 'join.file_passes', 'join.trim_mm']

/** A style's own words, and those that every ring can have beside them, each a sentence of its own. */
export function wordsOf(style: StyleSpec): { own: WordSpec[]; every: WordSpec[] } {
  const first = style.words.findIndex((word) => word.before.startsWith('.'))
  const at = first < 0 ? style.words.length : first
  return { own: style.words.slice(0, at), every: style.words.slice(at) }
}

/** The fields that a style begins with beside every ring's own. */
export function styleFields(style: StyleSpec): Fields {
  return Object.assign({}, ...style.words.map(wordFields)) as Fields
}

/** The stock that a style begins with; what it does not say is empty. */
export function stockOf(style: StyleSpec): Fields {
  const empty = { 'stock.width_mm': '', 'stock.side_mm': '' }
  return { ...empty, ...only(style.begins, (path) => STOCK.test(path)) }
}

const COMMON =
  /^(style|size|metal|stock\..*|rule|leave|join\..*|round_to_mm|wide|parts\..*|surfaces\..*)$/
const STOCK = /^stock\./

function only(fields: Fields, wanted: (path: string) => boolean) {
  return Object.fromEntries(Object.entries(fields).filter(([path]) => wanted(path)))
}

/** Another style on the sheet: its own words as they were left, or as they begin; a stock that nobody touched, or that
 * it cannot be made from, becomes its own. */
export function intoStyle(
  words: Pick<Words, 'fields' | 'was'>,
  before: StyleSpec,
  after: StyleSpec,
): Pick<Words, 'fields' | 'was'> {
  const { fields } = words
  const left = words.was[after.key]
  const first = stockOf(before)
  const untouched = Object.entries(first).every(([path, value]) => fields[path] === value)
  const unfit = after.profiles.length > 0 && !after.profiles.includes(fields['stock.profile'] ?? '')
  const own = left ? only(left, (path) => !COMMON.test(path)) : styleFields(after)
  const itsStock = left ? only(left, (path) => STOCK.test(path)) : stockOf(after)
  const stock = untouched || unfit ? itsStock : {}
  const leave = fields.leave === before.leave ? after.leave : (fields.leave ?? after.leave)
  return {
    fields: { ...fields, ...own, ...stock, leave, style: after.key },
    was: { ...words.was, [before.key]: { ...fields } },
  }
}

export interface Around extends Asked {
  style: StyleSpec
  catalogue: Schemas['Catalogue']
  gauge: Schemas['GaugeRequest'] | null
}

/** The request behind the words; what is left empty takes ringcraft's default. */
export function toOrder(words: Words, around: Around): Order {
  const { style, gauge } = around
  const fields = words.fields
  const order: Data = { style: style.key, size: fields.size ?? '', metal: fields.metal, gauge }
  putStock(order, 'stock', fields, around.catalogue)
  for (const word of style.words) putWord(order, word, fields, around.catalogue)
  for (const path of ['rule', 'leave', 'steps_by', ...JOIN]) putText(order, path, fields)
  setPath(order, 'round_to_mm', fields.round_to_mm?.trim() || '0')
  order.wide = fields.wide === 'yes'
  return Object.assign(order, asTyped(words, around)) as Order
}

/** The words of a kept job, to change it: its order as this shop would type it. */
export function fromJob(job: Job, due: string, gauge: string, style: StyleSpec): Words {
  const fields: Fields = styleFields(style)
  for (const path of Object.keys(fields)) if (!path.startsWith('@')) fields[path] = ''
  const used = job.plan?.work === 'make' ? job.plan.used : undefined
  const usual = {
    rule: used?.rule ?? 'centroid',
    leave: used?.leave ?? 'exact',
    'join.saw_passes': String(used?.join.saw_passes ?? 1),
    'join.blade': used?.join.blade ?? '4/0',
    'join.file_passes': String(used?.join.file_passes ?? 0),
    'join.trim_mm': typed(Number(used?.join.trim_mm ?? 0)),
    round_to_mm: typed(used?.round_to_mm ?? 0.1),
    wide: 'no',
  }
  Object.assign(fields, { 'stock.width_mm': '', 'stock.side_mm': '' }, usual, job.fields)
  const order = job.order as Data
  for (const word of style.words) {
    if (word.kind === 'one-of')
      fields[chosenKey(word)] = word.parts.find((part) => fields[part.field])?.field ?? word.first
    if (word.kind === 'list')
      fields[countKey(word)] = String((order[word.field] as unknown[] | undefined)?.length ?? 1)
  }
  return keptWords(job, due, gauge, fields)
}

/** The words that a new ring begins with, in this shop's ways. */
export function first(ways: Schemas['Preferences'], style: StyleSpec): Words {
  return freshWords({
    style: style.key,
    ...style.begins,
    ...stockOf(style),
    ...styleFields(style),
    rule: ways.rule,
    leave: ways.leave,
    'join.saw_passes': String(ways.saw_passes),
    'join.blade': ways.blade,
    'join.file_passes': '0',
    'join.trim_mm': '0',
    round_to_mm: typed(ways.round_to_mm),
    wide: ways.wide ? 'yes' : 'no',
  })
}

/** The labels of everything on a sheet of this style. */
export function labelsOf(style: StyleSpec, { labels }: Pick<Catalogue, 'labels'>): Fields {
  const own: Fields = { ...labels.make, stock: 'stock' }
  for (const word of style.words) {
    own[word.field] = word.label
    if (word.kind !== 'chosen') for (const part of word.parts) own[part.field] = part.label
  }
  return { ...onSheet(own), gauge: labels.make?.gauge ?? '' }
}
