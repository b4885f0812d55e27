/** The words of a ring that comes in, and the request behind them. */
import type { Job, ResizeOrder, Schemas } from '$lib/api/client'
import { onSheet } from '../sheet/labels'
import {
  asTyped,
  flagsOf,
  freshWords,
  KEPT_GAUGE,
  keptWords,
  places,
  putWord,
  wordFields,
  type Asked,
  type Data,
  type Fields,
  type Words,
  type WordSpec,
} from '../sheet/order'

/** Under which the wanted size is read on no gauge of ours, though the present one is. */
export const IDEAL_GAUGE = 'ideal'
/** A gauge of its own for the wanted size: the other one is the sheet's. */
export const TO_GAUGE = 'to_gauge'
const OTHER_SIDE = 'from_sides.1'
/** What a kept order has as a list of texts. */
const LISTS = ['features', 'from_sides']

/** How a draft of before called what the order's own paths say now. */
const BEFORE: Fields = { '@other_side': OTHER_SIDE, '@to_gauge': TO_GAUGE }

/** What was typed on a sheet of before, as this one calls it. */
export function upgraded(laid: Words): Words {
  const fields = Object.entries(laid.fields).map(([path, text]) => [BEFORE[path] ?? path, text])
  return { ...laid, fields: Object.fromEntries(fields) as Fields }
}

export type Sentences = Pick<Schemas['Catalogue'], 'sentences' | 'profiles'>

/** The words of its sentence, paragraph by paragraph. */
export function wordsOf({ sentences }: Sentences): WordSpec[] {
  return (sentences.resize ?? []).flat()
}

/** What a new sheet begins with in this shop. */
export function first(ways: Schemas['Preferences'], catalogue: Sentences): Words {
  return freshWords({
    ...begun(catalogue),
    'join.blade': ways.blade,
    'join.saw_passes': String(ways.saw_passes),
  })
}

function begun(catalogue: Sentences): Fields {
  return Object.assign({ [TO_GAUGE]: '' }, ...wordsOf(catalogue).map(wordFields)) as Fields
}

export interface Around extends Asked {
  catalogue: Sentences
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
    stones: [],
    features: [],
    from_gauge: around.gauge,
    to_gauge: around.toGauge,
  }
  for (const word of wordsOf(around.catalogue)) putWord(order, word, fields, around.catalogue)
  if (said(OTHER_SIDE)) order.from_sides = [said('from'), said(OTHER_SIDE)]
  return Object.assign(order, asTyped(words, around)) as unknown as ResizeOrder
}

/** The words of a kept job, to change it: its order as this shop would type it. */
export function fromJob(job: Job, due: string, catalogue: Sentences): Words {
  const order = job.order as Data
  const rest = Object.entries(job.fields).filter(([path]) => !LISTS.includes(path))
  const empty = Object.keys(begun(catalogue)).map((path) => [path, ''])
  const fields: Fields = {
    ...(Object.fromEntries(empty) as Fields),
    'pattern.at': 'outside',
    'piece.at': 'neutral',
    ...(Object.fromEntries(rest) as Fields),
  }
  const list = (name: string) => (order[name] ?? []) as string[]
  list('features').forEach((one, i) => (fields[`features.${i}`] = one))
  const [one, other] = list('from_sides')
  if (one && other) Object.assign(fields, { from: one, [OTHER_SIDE]: other })
  for (const word of wordsOf(catalogue))
    for (const part of word.parts.filter((one) => one.kind === 'flags'))
      for (const i of places(word.field, fields, word.parts[0]?.field)) {
        const entry = `${word.field}.${i}.`
        const on = flagsOf(part).filter((name) => fields[entry + name] === 'yes')
        fields[entry + part.field] = on.join('-')
      }
  const same = JSON.stringify(order.from_gauge) === JSON.stringify(order.to_gauge)
  fields[TO_GAUGE] = same ? '' : order.to_gauge ? KEPT_GAUGE : IDEAL_GAUGE
  return keptWords(job, due, order.from_gauge ? KEPT_GAUGE : '', fields)
}

/** The labels of everything on this sheet; what a choice says of several truths is told once. */
export function labelsOf({ labels }: Pick<Schemas['Catalogue'], 'labels'>): Fields {
  const order = labels.resize ?? {}
  const own = { 'stones.glued': '', 'stones.treated': '', from_sides: '' }
  return { ...onSheet({ ...order, ...own }), gauge: order.from_gauge ?? '' }
}
