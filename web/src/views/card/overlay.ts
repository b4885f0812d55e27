/** What a card shows of a job while some of it is still on its way. */
import type { Job, Step } from '$lib/api/client'

/** A write that is on its way: of these, the ticks are laid over what the server has. */
export interface Tick {
  path: string
  body: unknown
  at: number
}

/** When each step was done, with ticks that are still on their way laid over what the server has. */
export function doneTimes(
  done: Job['done'],
  onTheirWay: Tick[],
  jobId: number,
): Map<string, string> {
  const start = `/api/jobs/${jobId}/steps/`
  const times = new Map(done.map((step) => [step.key, step.at]))
  for (const { path, body, at } of onTheirWay) {
    if (!path.startsWith(start) || (body as { once_more?: boolean }).once_more) continue
    const key = path.slice(start.length)
    if ((body as { done: boolean }).done) times.set(key, new Date(at).toISOString())
    else times.delete(key)
  }
  return times
}

/** The steps of the kept plan, each in the words for the stock as measured. */
export function worded(kept: Step[], now: Step[]): Step[] {
  const words = new Map(now.map((step) => [step.key, step]))
  return kept.map((step) => words.get(step.key) ?? step)
}
