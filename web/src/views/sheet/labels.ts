/** What each field of a sheet is called where theirs stand beside mine, and how its value is shown. */
import type { Catalogue } from '$lib/api/client'
import type { Fields } from '$lib/theirs'
import type { Words } from './order'

/** What every sheet has beside its order. */
export const DETAILS: Fields = {
  customer: 'customer',
  title: 'name of the job',
  ticket: 'ticket',
  note: 'note',
  day: 'due day',
  hour: 'due hour',
}
const FIELD = 'order.'

/** The labels of an order's fields as a sheet has them. */
export function onSheet(order: Fields): Fields {
  const own = Object.entries(order).map(([path, said]) => [FIELD + path, said])
  return { ...DETAILS, ...(Object.fromEntries(own) as Fields) }
}

/** The label of one field, those of a list's entries with their place; nothing for what no sheet shows. */
export function labelOf(field: string, labels: Fields): string {
  const entry = /^order\.([a-z_]+)\.(\d+)(?:\.(.+))?$/.exec(field)
  if (labels[field] || !entry) return labels[field] ?? ''
  const [, list = '', place = '', part = ''] = entry
  const own = labels[FIELD + part] ?? labels[`${FIELD}${list}${part && '.'}${part}`]
  return own ? withPlace(own, Number(place) + 1) : ''
}

/** The label of a list's entry: its place where the label has one for it, else behind it. */
export function withPlace(label: string, place: number): string {
  return label.includes('{n}') ? label.replace('{n}', String(place)) : `${label} ${place}`
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

/** What is wrong with the order itself: the rest is said where it is kept. */
export function notKept<M extends { field: string }>(mistakes: M[]): M[] {
  const kept = ['', 'title', 'customer_name', 'note', 'due', 'hour', 'ticket']
  return mistakes.filter((one) => !kept.includes(one.field))
}
