/** A day as people say it: fri, 28 nov, in 3 days. Read here only; what goes over the wire is the date itself. */
import { dayWords, fetchWords } from './day-words.svelte'

const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ')
const DAY_MS = 86_400_000
const two = (n: number) => String(n).padStart(2, '0')

/** The day that a text means, as a date of the calendar; nothing where it means none. Days to come go before past ones. */
export function readDay(text: string, now: Date = new Date()): string | null {
  const said = text.trim()
  if (/^\d{4}-\d{2}-\d{2}$/.test(said)) return Number.isNaN(Date.parse(said)) ? null : said
  const full = inFull(said)
  if (full) return full
  const words = dayWords()
  if (!words) {
    void fetchWords() // who asks reads again once they are here
    return null
  }
  // nov 28 is read month first, as it is written; figures alone are day first
  const reader = /^[a-z]{3,9}\.? \d/i.test(said) ? words.casual : words.GB
  const found = reader.parse(said, now, { forwardDate: true })[0]
  // half a date is none: all that was written must belong to it
  if (!found || found.text.length < said.replace(/^(by|on|until|the)\s+/i, '').length) return null
  const date = found.date()
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
}

/** A date as it is written here, 28 Nov 2026; nothing where it is no day of the calendar. */
function inFull(said: string): string | null {
  const [, date = '', name = '', year = ''] = /^(\d{1,2}) ([a-z]{3}) (\d{4})$/i.exec(said) ?? []
  const month = MONTHS.findIndex((one) => one.toLowerCase() === name.toLowerCase())
  const day = new Date(Date.UTC(Number(year), month, Number(date)))
  if (month < 0 || day.getUTCDate() !== Number(date)) return null
  return `${year}-${two(month + 1)}-${two(Number(date))}`
}

/** A date of the calendar as it stands in a field, the same whenever it is read again: 28 Nov 2026. */
export function dayText(day: string): string {
  const [year = '', month = '', date = ''] = day.split('-')
  return day ? `${Number(date)} ${MONTHS[Number(month) - 1] ?? ''} ${year}` : ''
}

/** What a day is from here: Sat 28 Nov, in 3 days. */
export function dayFrom(day: string, now: Date): string {
  const date = new Date(`${day}T12:00`)
  const from = new Date(now.getFullYear(), now.getMonth(), now.getDate(), 12)
  const days = Math.round((date.getTime() - from.getTime()) / DAY_MS)
  const said = date.toLocaleDateString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
  })
  const year = date.getFullYear() === now.getFullYear() ? '' : ` ${date.getFullYear()}`
  const words: Record<number, string> = { 0: 'today', 1: 'tomorrow', [-1]: 'yesterday' }
  const far = days > 1 ? `in ${days} days` : `${-days} days ago`
  return `${said.replace(',', '')}${year}, ${words[days] ?? far}`
}

/** The hour that a text means, as 16:30; nothing where it means none. 16, 16.30, 4 pm and noon are hours. */
export function readHour(text: string): string | null {
  const said = text.trim().toLowerCase().replace(/\s+/g, '')
  const found = /^(\d{1,2})(?:[:.h]?(\d{2}))?(?:h|oʼclock|o'clock)?([ap])?\.?(?:m\.?)?$/.exec(said)
  if (!found) return { noon: '12:00', midday: '12:00', midnight: '00:00' }[said] ?? null
  const [, hours = '', minutes = '00', half] = found
  const hour = Number(hours)
  if (Number(minutes) > 59 || hour > 23 || (half && (hour < 1 || hour > 12))) return null
  const on = !half ? hour : half === 'p' ? (hour % 12) + 12 : hour % 12
  return `${two(on)}:${minutes}`
}

export const NO_HOUR = { message: 'That is no hour.', hint: 'Write 16:30, 16 or 4 pm.' }
export const NO_DAY = {
  message: 'That is no day.',
  hint: 'Write fri, 28 nov, in 3 days or 28 Nov 2026.',
}
