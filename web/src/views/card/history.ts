/** A line of a job's history as the server tells it, with the times that this device tells by its own clock. */
import type { Schemas } from '$lib/api/client'
import { dayAndHour, dayWords, whenWords } from '$lib/text'

type Line = Pick<Schemas['EventOut'], 'says' | 'done_at' | 'until' | 'due'>

/** What happened, as one says it. */
export function told({ says, done_at, until, due }: Line, now: Date): string {
  const at = (when: string | null | undefined) => (when ? dayAndHour(when) : 'nothing')
  const promised = due ? `due: ${at(due.before)} → ${at(due.after)}` : ''
  return [
    [says, promised].filter(Boolean).join('; '),
    done_at ? whenWords(done_at, now) : '',
    until ? `until ${dayWords(until)}` : '',
  ]
    .filter(Boolean)
    .join(', ')
}
