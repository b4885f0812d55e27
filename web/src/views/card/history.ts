/** A line of a job's history in words. */
import type { Catalogue, Schemas, Step } from '$lib/api/client'
import { dayAndHour, dayWords, whenWords } from '$lib/text'
import { changedFields } from '../ring/labels'

type Line = Pick<Schemas['EventOut'], 'at' | 'what' | 'before' | 'after'>
type StepNamed = Pick<Step, 'key' | 'title' | 'figure' | 'measure'>

const SOON_MS = 60_000

const PLAIN: Record<string, string> = {
  created: 'put on the bench',
  closed: 'taken off the bench',
  reopened: 'put back on the bench',
  'planned-anew': 'planned anew by today’s rules',
}

const DETAILS: Record<string, string> = {
  title: 'name of the job',
  customer_name: 'customer',
  note: 'note',
  due: 'due',
  ticket: 'ticket',
}

function value(data: unknown): string {
  return data === null || data === undefined || data === '' ? 'nothing' : String(data as string)
}

/** What was changed of a job, each as it was and as it is; the order by the words of its sheet. */
function changes(before: Line['before'], after: Line['after'], catalogue: Catalogue): string {
  const said = Object.entries(DETAILS)
    .filter(([field]) => field in after)
    .map(([field, label]) => {
      const [was, is] = [before[field], after[field]].map((data) =>
        field === 'due' && data ? dayAndHour(value(data)) : value(data),
      )
      return `${label}: ${was} → ${is}`
    })
  if ('order' in after)
    for (const one of changedFields(before.order, after.order, catalogue))
      said.push(`${one.label}: ${value(one.was)} → ${value(one.is)}`)
  return said.join('; ') || 'saved again'
}

/** A step as it was called when it was done; in an older line without the figure, which may have been another. */
function stepOf(after: Line['after'], route: StepNamed[]): string {
  if (after.title) return value(after.title)
  const step = route.find((one) => one.key === after.step)
  return step ? step.title.replace(step.figure, '').trim() : value(after.step)
}

/** When it was really done, where that was not when the line was written. */
function doneThen({ at, after }: Line, now: Date): string {
  const done = value(after.at)
  const apart = Math.abs(Date.parse(done) - Date.parse(at))
  return apart > SOON_MS ? `, ${whenWords(done, now)}` : ''
}

/** What happened, as one says it. */
export function told(line: Line, route: StepNamed[], catalogue: Catalogue, now: Date): string {
  const measure = (key: unknown) =>
    route.flatMap((one) => one.measure).find((one) => one.key === key)?.title ?? String(key)
  const { what, before, after } = line
  if (what === 'ticked') return `done: ${stepOf(after, route)}${doneThen(line, now)}`
  if (what === 'unticked') return `not done after all: ${stepOf(after, route)}`
  if (what === 'measured')
    return `${measure(after.measure)}: ${value(after.text)}${doneThen(line, now)}`
  if (what === 'measure-removed') return `${measure(after.measure)}: does not hold any more`
  if (what === 'joint-seen') {
    const at = stepOf(after, route)
    if (after.solder && after.solder !== before.solder) return `${at}: with ${value(after.with)}`
    return 'passes_made' in after || 'views' in after ? `seen: ${at}` : `${at}: as planned again`
  }
  if (what === 'placed') {
    const place = catalogue.places.find((one) => one.key === after.place)?.title ?? 'on the bench'
    const until = after.until ? `until ${dayWords(value(after.until))}` : ''
    return [place, after.note ? value(after.note) : '', until].filter(Boolean).join(', ')
  }
  if (what === 'photographed') return `a photograph, ${value(after.side)}`
  if (what === 'photograph-removed') return `a photograph taken away, ${value(after.side)}`
  if (what === 'estimated') return `an estimate in ${value(after.metal)}: ${value(after.total)}`
  if (what === 'once-more')
    return `once more: ${stepOf(after, route)}; ${value(after.heats)} heats so far`
  if (what === 'closed' && after.without)
    return `off the bench without being read: ${value(after.without)}`
  if (what === 'changed') return changes(before, after, catalogue)
  return PLAIN[what] ?? what
}
