/** What each field of a sheet is called where theirs stand beside mine, and how its value is shown. */
import type { Catalogue } from '$lib/api/client'
import type { Fields } from '$lib/theirs'
import type { StyleSpec, Words } from './order'

/** What every sheet has beside its order. */
export const DETAILS: Fields = {
  customer: 'customer',
  title: 'name of the job',
  ticket: 'ticket',
  note: 'note',
  day: 'due day',
  hour: 'due hour',
}
const ORDER: Fields = {
  size: 'finger size',
  metal: 'metal',
  'stock.profile': 'profile',
  'stock.width_mm': 'width',
  'stock.thickness_mm': 'thickness',
  'stock.side_mm': 'straight side',
  rule: 'rule',
  'join.saw_passes': 'saw passes',
  'join.blade': 'saw blade',
  'join.file_passes': 'file passes',
  'join.trim_mm': 'trim',
  leave: 'leave it',
  round_to_mm: 'mark to',
  wide: 'wide band',
}
const FIELD = 'order.'

/** The labels of everything on a sheet of this style. */
export function labelsOf(style: StyleSpec): Fields {
  const own: Fields = {}
  for (const word of style.words) {
    own[FIELD + word.field] = word.label
    for (const part of word.parts) own[FIELD + part.field] = part.label
  }
  const order = Object.fromEntries(
    Object.entries(ORDER).map(([path, said]) => [FIELD + path, said]),
  )
  own[`${FIELD}stock`] = 'stock'
  return { ...DETAILS, [`${FIELD}style`]: 'style', ...order, ...own, gauge: 'read on' }
}

/** The label of one field, those of a list's entries with their place; nothing for what no sheet shows. */
export function labelOf(field: string, labels: Fields): string {
  const entry = /^order\.([a-z_]+)\.(\d+)\.(.+)$/.exec(field)
  if (labels[field] || !entry) return labels[field] ?? ''
  const [, list = '', place = '', part = ''] = entry
  const own = labels[FIELD + part] ?? labels[`${FIELD}${list}.${part}`]
  return own ? `${own} ${Number(place) + 1}` : ''
}

/** A sheet as flat fields: what was typed beside the order, and the order's words by their paths. */
export function flat(words: Words): Fields {
  const out: Fields = {}
  for (const name of Object.keys(DETAILS)) out[name] = String(words[name as keyof Words])
  if (!words.day) out.hour = ''
  for (const [path, value] of Object.entries(words.fields)) out[FIELD + path] = value
  out.gauge = words.gauge
  return out
}

/** The sheet with flat fields laid on it. */
export function lay(words: Words, fields: Fields): Words {
  const details = Object.fromEntries(Object.keys(DETAILS).map((name) => [name, fields[name] ?? '']))
  const own = Object.entries(fields)
    .filter(([path]) => path.startsWith(FIELD))
    .map(([path, value]) => [path.slice(FIELD.length), value])
  return {
    ...words,
    ...details,
    hour: fields.hour || words.hour,
    gauge: fields.gauge ?? words.gauge,
    fields: Object.fromEntries(own) as Record<string, string>,
  }
}

/** A value as the sheet shows it: a metal by its name, not its key. */
export function shown(field: string, value: string, catalogue: Catalogue): string {
  const lists: Record<string, { key: string; title: string }[]> = {
    [`${FIELD}metal`]: catalogue.metals,
    [`${FIELD}stock.profile`]: catalogue.profiles,
    [`${FIELD}style`]: catalogue.styles,
    [`${FIELD}rule`]: catalogue.rules,
  }
  return lists[field]?.find((one) => one.key === value)?.title ?? value
}
