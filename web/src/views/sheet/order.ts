/** What every sheet has: what is typed of an order, the words of its sentence, the request behind them. */
import type { Job, Schemas } from '$lib/api/client'
import { dayText } from '$lib/day'

export type WordSpec = Schemas['WordOut']
export type PartSpec = Schemas['PartOut']
export type Fields = Record<string, string>

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

/** Which part of a word of several is given: kept under the word's own first part. */
export function chosenKey(word: WordSpec): string {
  return `@${word.first}`
}

/** How many entries a list has. */
export function countKey(word: WordSpec): string {
  return `#${word.field}`
}

/** Whether a word is asked for at all, as the others stand. */
export function isAsked({ when }: { when: string }, fields: Fields, entry = ''): boolean {
  const holds = (one: string) => {
    const [name = '', value] = one.split('=')
    const path = name.startsWith('.') ? entry + name : name
    if (value === undefined) return !!fields[path]?.trim()
    return (
      fields[path] === value || places(path, fields).some((i) => fields[`${path}.${i}`] === value)
    )
  }
  return !when || when.split('|').some((one) => one.split('&').every(holds))
}

/** The parts of an entry that are asked for, as the entry stands. */
export function askedParts(word: WordSpec, fields: Fields, place: number): PartSpec[] {
  return word.parts.filter((one) => isAsked(one, fields, `${word.field}.${place}`))
}

/** Whether it is shown, by what the plan says. */
export function isSeen({ seen }: { seen: string }, facts: Set<string>): boolean {
  return !seen || (seen.startsWith('!') ? !facts.has(seen.slice(1)) : facts.has(seen))
}

/** The path of a part in an entry of its list; a list of plain texts has no name for it. */
export function entryPath(list: string, place: number, part: string): string {
  return [list, place, part].filter((one) => one !== '').join('.')
}

/** The places that are chosen in a list which grows as one chooses. */
export function places(list: string, fields: Fields, first = ''): number[] {
  const out: number[] = []
  for (let i = 0; fields[entryPath(list, i, first)]; i += 1) out.push(i)
  return out
}

/** One more entry of a list, as it begins. */
export function entryFields(word: WordSpec, place: number, key = ''): Fields {
  const first = entryPath(word.field, place, word.parts[0]?.field ?? '')
  const begun = askedParts(word, { [first]: key }, place).flatMap((part) =>
    Object.entries(part.begins),
  )
  return Object.fromEntries(begun.map(([path, text]) => [`${word.field}.${place}.${path}`, text]))
}

/** One entry of such a list chosen; an empty one goes, and those after it move up. */
export function choose(word: WordSpec, fields: Fields, place: number, key: string): Fields {
  const first = word.parts[0]?.field ?? ''
  if (key)
    return {
      ...entryFields(word, place, key),
      ...fields,
      [entryPath(word.field, place, first)]: key,
    }
  const count = places(word.field, fields, first).length
  const paths = (i: number) => word.parts.map((part) => entryPath(word.field, i, part.field))
  const gone = new Set([...Array(count - place).keys()].flatMap((i) => paths(place + i)))
  const out = Object.fromEntries(Object.entries(fields).filter(([path]) => !gone.has(path)))
  for (let i = place; i + 1 < count; i += 1)
    paths(i + 1).forEach((path, n) => {
      const value = fields[path]
      if (value !== undefined) out[paths(i)[n] ?? ''] = value
    })
  return out
}

/** The fields that a word begins with. */
export function wordFields(word: WordSpec): Fields {
  const out = { ...word.begins }
  if (word.kind === 'one-of') {
    out[chosenKey(word)] = word.first
    for (const part of word.parts) Object.assign(out, part.begins)
  } else if (word.kind === 'list') {
    out[countKey(word)] = '1'
    Object.assign(out, entryFields(word, 0))
  }
  return out
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

export interface Asked {
  ways: Schemas['Preferences']
  /** The kept job whose order it is. */
  jobId: number | null
}

/** The measures and the profile at a path; one that is asked for and not written is refused at its own field. */
export function putStock(order: Data, path: string, fields: Fields, catalogue: Profiles) {
  const needs = needsOf(fields[`${path}.profile`] ?? '', catalogue)
  putText(order, `${path}.profile`, fields)
  for (const name of ['thickness_mm', ...needs.filter((one) => one === 'width_mm')])
    setPath(order, `${path}.${name}`, (fields[`${path}.${name}`] ?? '').trim())
  if (needs.includes('side_mm')) putText(order, `${path}.side_mm`, fields)
}

export function putText(order: Data, path: string, fields: Fields) {
  const text = (fields[path] ?? '').trim()
  if (text) setPath(order, path, text)
}

/** A word's fields in the request: each goes over as typed, it is ringcraft that reads and refuses. */
export function putWord(order: Data, word: WordSpec, fields: Fields, catalogue: Profiles) {
  if (!isAsked(word, fields)) return
  const entries = (places: number[]) => {
    for (const i of places)
      for (const part of askedParts(word, fields, i))
        putPart(order, part, entryPath(word.field, i, part.field), fields, catalogue)
  }
  if (word.kind === 'one-of') {
    const part = word.parts.find((one) => one.field === fields[chosenKey(word)])
    if (part) setPath(order, part.field, (fields[part.field] ?? '').trim())
  } else if (word.kind === 'list') entries([...Array(Number(fields[countKey(word)] ?? '0')).keys()])
  else if (word.kind === 'chosen') entries(places(word.field, fields, word.parts[0]?.field))
  else putPart(order, word, word.field, fields, catalogue)
}

function putPart(order: Data, part: PartSpec, path: string, fields: Fields, catalogue: Profiles) {
  const said = fields[path] ?? ''
  if (part.kind === 'own') return
  if (part.kind === 'stock') putStock(order, path, fields, catalogue)
  else if (part.kind === 'lines') setPath(order, path, said)
  else if (part.kind === 'yes') setPath(order, path, said === 'yes')
  else if (part.kind === 'flags') {
    const entry = path.slice(0, path.lastIndexOf('.') + 1)
    for (const name of flagsOf(part)) setPath(order, entry + name, said.split('-').includes(name))
  } else putText(order, path, fields)
}

/** What a choice of several truths can say. */
export function flagsOf({ choices }: Pick<PartSpec, 'choices'>): string[] {
  return [...new Set(choices.flatMap((one) => one.key.split('-')).filter(Boolean))]
}

interface Profiles {
  profiles: Schemas['ProfileChoice'][]
}

/** What a profile needs beside its thickness. */
export function needsOf(profile: string, catalogue: Profiles): string[] {
  return catalogue.profiles.find((one) => one.key === profile)?.needs ?? []
}

const BESIDE = { was: {}, line: '', beside: {} }

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
