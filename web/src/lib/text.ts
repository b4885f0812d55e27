/** Words and figures for people. Nothing here works out a ring; it only shows what was worked out. */

export interface Piece {
  text: string
  kind: 'plain' | 'fraction' | 'strong'
}

const FRACTION = /(\d+) (\d{1,2}\/\d{1,2})(?![\d/])|(?<![\d/.])(\d{1,2}\/(?:2|4|8|16))(?![\d/])/g

/** Text in pieces, so that 7 1/2 can be set as seven and a real half; blades like 4/0 stay as they are. */
export function pieces(text: string, strong = ''): Piece[] {
  const out: Piece[] = []
  const at = strong ? text.indexOf(strong) : -1
  if (at >= 0) {
    return [
      ...pieces(text.slice(0, at)),
      { text: strong, kind: 'strong' },
      ...pieces(text.slice(at + strong.length)),
    ]
  }
  let from = 0
  for (const match of text.matchAll(FRACTION)) {
    const before = text.slice(from, match.index) + (match[1] ?? '')
    if (before) out.push({ text: before, kind: 'plain' })
    out.push({ text: match[2] ?? match[3] ?? '', kind: 'fraction' })
    from = match.index + match[0].length
  }
  if (from < text.length) out.push({ text: text.slice(from), kind: 'plain' })
  return out
}

/** Words as a line of their own begins: with a capital. */
export function capital(words: string): string {
  return words.slice(0, 1).toUpperCase() + words.slice(1)
}

/** A reading as its own caliper's field has it: without the unit that stands behind the field. */
export function asTyped(text: string, units: string): string {
  return units === 'in' && text.endsWith(' in') ? text.slice(0, -3) : text
}

/** The unit behind a field, where what is typed in it does not name its own. */
export function unitBehind(text: string, unit: string): string {
  return /[a-z"″]/i.test(text) ? '' : unit
}

/** Minutes of work, short: 40 min, 1 h 10. */
export function minutes(count: number): string {
  const whole = Math.round(count)
  if (whole < 60) return `${whole} min`
  const rest = whole % 60
  return `${Math.floor(whole / 60)} h${rest ? ` ${String(rest).padStart(2, '0')}` : ''}`
}

/** Time left until a moment, as minutes and seconds; nought when it has passed. */
export function countdown(until: Date, now: Date): string {
  const left = Math.max(0, Math.round((until.getTime() - now.getTime()) / 1000))
  const hours = Math.floor(left / 3600)
  const rest = `${String(left % 60).padStart(2, '0')}`
  if (hours) return `${hours}:${String(Math.floor(left / 60) % 60).padStart(2, '0')}:${rest}`
  return `${Math.floor(left / 60)}:${rest}`
}

const DAY = 86_400_000

function midnight(date: Date): number {
  return new Date(date.getFullYear(), date.getMonth(), date.getDate()).getTime()
}

const dayMonth = (date: Date) =>
  date.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })

export function clock(date: Date): string {
  return `${date.getHours()}:${String(date.getMinutes()).padStart(2, '0')}`
}

/** Second, third: how one counts times. */
export function nth(count: number): string {
  const words = ['', 'first', 'second', 'third', 'fourth', 'fifth', 'sixth']
  return words[count] ?? `${count}th`
}

/** When a ring is promised, as one says it: today 16:00, Thu, 3 Dec. */
export function dueWords(due: string | null | undefined, now: Date): string {
  if (!due) return 'no date'
  const date = new Date(due)
  const days = Math.round((midnight(date) - midnight(now)) / DAY)
  if (days === 0) return `today ${clock(date)}`
  if (days === 1) return `tomorrow ${clock(date)}`
  if (days === -1) return 'yesterday'
  if (days > 1 && days < 7) return date.toLocaleDateString('en-GB', { weekday: 'short' })
  return dayMonth(date)
}

/** A day without an hour: 28 Nov. */
export function dayWords(day: string): string {
  return dayMonth(new Date(`${day}T12:00`))
}

/** A day and its hour, whatever day it is now: 28 Nov 16:00. */
export function dayAndHour(when: string): string {
  const date = new Date(when)
  return `${dayMonth(date)} ${clock(date)}`
}

/** When something was, as one says it: at 14:05, yesterday at 9:30, on 3 Dec at 9:30. */
export function whenWords(when: string | Date, now: Date): string {
  const date = new Date(when)
  const days = Math.round((midnight(now) - midnight(date)) / DAY)
  if (days === 0) return `at ${clock(date)}`
  if (days === 1) return `yesterday at ${clock(date)}`
  return `on ${dayMonth(date)} at ${clock(date)}`
}

/** A moment as a datetime-local field wants it, and back. */
export function toField(due: string | null | undefined): string {
  if (!due) return ''
  const date = new Date(due)
  const two = (n: number) => String(n).padStart(2, '0')
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}T${two(date.getHours())}:${two(date.getMinutes())}`
}

export function fromField(field: string): string | null {
  const date = new Date(field)
  return field && !Number.isNaN(date.getTime()) ? date.toISOString() : null
}

/** A time [ms] as it is sent. */
export function stamp(ms: number): string {
  return new Date(ms).toISOString()
}
