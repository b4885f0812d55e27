import type { Job, Order, Schemas } from '$lib/api/client'
import { dayText } from '$lib/day'
import { typed } from '$lib/length.svelte'

export type StyleSpec = Schemas['StyleChoice']
export type WordSpec = Schemas['WordOut']
export type PartSpec = Schemas['PartOut']

/** What is typed of an order: each field of the request by its dotted path, exactly as typed. */
export interface Words {
  fields: Record<string, string>
  gauge: string
  /** Whose ways a kept order is planned in: its own, as it was saved, or today's. */
  ways: string
  title: string
  customer: string
  customerId: string
  note: string
  ticket: string
  day: string
  hour: string
  /** What was typed for each style that was left, for when one comes back to it. */
  was: Record<string, Record<string, string>>
  /** The shorthand line and the stock beside it, as far as they were typed. */
  line: string
  beside: Record<string, string>
}

const JOIN = ['join.saw_passes', 'join.blade', 'join.file_passes', 'join.trim_mm']

/** Which part of a word of several is given: kept under the word's own first part. */
export function chosenKey(word: WordSpec): string {
  return `@${word.first}`
}

/** How many entries a list has. */
export function countKey(word: WordSpec): string {
  return `#${word.field}`
}

/** Whether a word is asked for at all, as the others stand. */
export function isAsked(word: { when: string }, fields: Record<string, string>): boolean {
  const [field = '', value] = word.when.split('=')
  return !word.when || fields[field] === value
}

/** One more entry of a list, as it begins. */
export function entryFields(word: WordSpec, place: number): Record<string, string> {
  const begun = word.parts.flatMap((part) => Object.entries(part.begins))
  return Object.fromEntries(begun.map(([path, text]) => [`${word.field}.${place}.${path}`, text]))
}

/** The fields that a style begins with beside every ring's own. */
export function styleFields(style: StyleSpec): Record<string, string> {
  const out: Record<string, string> = {}
  for (const word of style.words) {
    Object.assign(out, word.begins)
    if (word.kind === 'one-of') {
      out[chosenKey(word)] = word.first
      for (const part of word.parts) Object.assign(out, part.begins)
    } else if (word.kind === 'list') {
      out[countKey(word)] = '1'
      Object.assign(out, entryFields(word, 0))
    }
  }
  return out
}

/** The stock that a style begins with; what it does not say is empty. */
export function stockOf(style: StyleSpec): Record<string, string> {
  const empty = { 'stock.width_mm': '', 'stock.side_mm': '' }
  return { ...empty, ...only(style.begins, (path) => STOCK.test(path)) }
}

const COMMON = /^(style|size|metal|stock\..*|rule|leave|join\..*|round_to_mm|wide)$/
const STOCK = /^stock\./

function only(fields: Record<string, string>, wanted: (path: string) => boolean) {
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

export type Data = Record<string, unknown>

/** Set a field of a request by its dotted path. */
export function setPath(data: Data, path: string, value: unknown) {
  const steps = path.split('.')
  let at: Data | unknown[] = data
  steps.forEach((step, i) => {
    const key = Array.isArray(at) ? Number(step) : step
    const holder = at as Record<string | number, unknown>
    if (i === steps.length - 1) holder[key] = value
    else {
      holder[key] ??= /^\d+$/.test(steps[i + 1] ?? '') ? [] : {}
      at = holder[key] as Data | unknown[]
    }
  })
}

export interface Around extends Asked {
  style: StyleSpec
  catalogue: Schemas['Catalogue']
  gauge: Schemas['GaugeRequest'] | null
}

/** Whose ways: as a job was saved, or as they are today. */
export const OWN_WAYS = 'own'
export const TODAY = 'today'

/** Under which a kept job's own calibration is chosen. */
export const KEPT_GAUGE = 'kept'

/** Which ways an order asks for: what it leaves out the shop's fill on the server. What was typed is read in the units
 * and on the scale that this screen showed, a kept order's in its own. */
export function asTyped(words: Words, { ways, jobId }: Asked): Data {
  const own = jobId !== null && words.ways !== TODAY
  return { ways: 'shop', units: ways.units, ...(own ? {} : { home_scale: ways.home_scale }) }
}

/** The query that says whose ways a plan is made in. */
export function waysOf(words: Words, jobId: number | null): { ways_of?: string } {
  return jobId === null || words.ways === TODAY ? {} : { ways_of: String(jobId) }
}

interface Asked {
  ways: Schemas['Preferences']
  /** The kept job whose order it is. */
  jobId: number | null
}

/** The request behind the words; what is left empty takes ringcraft's default. */
export function toOrder(words: Words, around: Around): Order {
  const { style, gauge } = around
  const fields = words.fields
  const order: Data = { style: style.key, size: fields.size ?? '', metal: fields.metal, gauge }
  const put = (path: string) => {
    const text = (fields[path] ?? '').trim()
    if (text) setPath(order, path, text)
  }
  const stock = (path: string) => {
    const needs = needsOf(fields[`${path}.profile`] ?? '', around.catalogue)
    put(`${path}.profile`)
    // a measure that is asked for and not written is refused at its own field
    for (const name of ['thickness_mm', ...needs.filter((one) => one === 'width_mm')])
      setPath(order, `${path}.${name}`, (fields[`${path}.${name}`] ?? '').trim())
    if (needs.includes('side_mm')) put(`${path}.side_mm`)
  }
  stock('stock')
  for (const word of style.words) putWord(word)
  for (const path of ['rule', 'leave', ...JOIN]) put(path)
  setPath(order, 'round_to_mm', fields.round_to_mm?.trim() || '0')
  order.wide = fields.wide === 'yes'
  // every word goes over as typed: it is ringcraft that reads it, and refuses what is none of its own
  return Object.assign(order, asTyped(words, around)) as Order

  function putWord(word: WordSpec) {
    if (!isAsked(word, fields)) return
    if (word.kind === 'stock') stock(word.field)
    else if (word.kind === 'one-of') {
      const part = word.parts.find((one) => one.field === fields[chosenKey(word)])
      if (part) setPath(order, part.field, (fields[part.field] ?? '').trim())
    } else if (word.kind === 'list') {
      for (let i = 0; i < Number(fields[countKey(word)] ?? '0'); i += 1)
        for (const part of word.parts.filter((one) => isAsked(one, fields))) {
          const path = `${word.field}.${i}.${part.field}`
          if (part.kind === 'stock') stock(path)
          else put(path)
        }
    } else if (word.kind === 'lines') setPath(order, word.field, fields[word.field] ?? '')
    else put(word.field)
  }
}

/** What a profile needs beside its thickness. */
export function needsOf(profile: string, catalogue: Schemas['Catalogue']): string[] {
  return catalogue.profiles.find((one) => one.key === profile)?.needs ?? []
}

const BESIDE = { was: {}, line: '', beside: {} }

/** The words of a kept job, to change it: its order as this shop would type it. */
export function fromJob(job: Job, due: string, gauge: string, style: StyleSpec): Words {
  const fields: Record<string, string> = styleFields(style)
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

/** What is kept of a job beside its order, with the order's fields. */
export function keptWords(
  job: Job,
  due: string,
  gauge: string,
  fields: Record<string, string>,
): Words {
  return {
    ...BESIDE,
    fields,
    gauge,
    ways: OWN_WAYS,
    title: job.title,
    customer: job.customer_name,
    customerId: job.customer_id ? String(job.customer_id) : '',
    note: job.note,
    ticket: job.ticket,
    day: dayText(due.slice(0, 10)),
    hour: due.slice(11) || '17:00',
  }
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

/** A sheet on which nothing is typed beside these fields. */
export function freshWords(fields: Record<string, string>): Words {
  return {
    ...BESIDE,
    fields,
    gauge: '',
    ways: OWN_WAYS,
    title: '',
    customer: '',
    customerId: '',
    note: '',
    ticket: '',
    day: '',
    hour: '17:00',
  }
}
