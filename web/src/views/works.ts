/** The kinds of work a shop does, one entry each: where its sheet stands, how one comes to it, what its card draws.
 *
 * A kind that is added is its own folder and its line here; the server's registry says what is done with it.
 */
import type { Component } from 'svelte'

import type { Catalogue, Job, WorkPlan } from '$lib/api/client'
import { PRACTICE } from './practice/work'
import { RESIZE } from './resize/work'
import { MAKE } from './ring/work'

export interface WorkView {
  key: string
  /** The address of its sheet, how the navigation calls it, its key and what that key says. */
  at: string
  nav?: string
  shortcut: string
  says: string
  sheet: Component<{ catalogue: Catalogue; jobId: number | null }>
  /** What its card draws beside a step, at which stations. */
  /** What its card shows under the steps of what was read so far. */
  soFar?: { load: () => Promise<{ default: Component<{ job: Job }> }> }
  drawn?: { stations: string[]; load: () => Promise<{ default: Component<Drawn> }> }
}
export interface Drawn {
  plan: WorkPlan
  stale: boolean
  width?: number
  height?: number
}

export const WORKS: WorkView[] = [MAKE, RESIZE, PRACTICE]

/** How a job's kind of work is shown; one that this screen does not know yet has no sheet. */
export function workOf(job: Pick<Job, 'work'>): WorkView | undefined {
  return WORKS.find((one) => one.key === job.work)
}
