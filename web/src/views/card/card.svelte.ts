/** A job on its card: its steps as they stand, ticks that are still on their way laid over them. */
import {
  api,
  ask,
  isAway,
  type Answer,
  type Job,
  type Mistake,
  type Schemas,
  type Step,
} from '$lib/api/client'
import { outbox } from '$lib/outbox.svelte'
import type { Parcel } from '$lib/outbox-item'
import { router } from '$lib/router.svelte'
import { doneTimes, worded, type Tick } from './overlay'

export class Card {
  job = $state.raw<Job | null>(null)
  /** What is asked about the solder that was flowed; empty where nothing is. */
  solder = $state('')
  /** What has to be said of a tick: somebody else ticked that step already. */
  told = $state('')
  mistakes = $state.raw<Mistake[]>([])
  missing = $state(false)
  at = $state('')
  readonly jobId: number = 0
  /** Ticks whose answer is not laid on the job yet: nothing may go from under a finger in between. */
  #ticking = $state.raw<Tick[]>([])
  /** How often somebody has turned to a step. */
  #turns = 0

  constructor(jobId: number) {
    this.jobId = jobId
  }

  /** The plan for what was measured: the plan itself where nothing has moved it. */
  now = $derived(this.job?.now ?? this.job?.plan ?? null)
  /** Where a reading left the way no sense, its route ends with that. */
  stopped = $derived(!!this.now && 'stopped' in this.now && !!this.now.stopped)
  steps = $derived(
    this.stopped
      ? (this.now?.route ?? [])
      : worded(this.job?.plan?.route ?? [], this.now?.route ?? []),
  )
  done = $derived(
    doneTimes(this.job?.done ?? [], [...outbox.onTheirWay, ...this.#ticking], this.jobId),
  )
  index = $derived(
    Math.max(
      0,
      this.steps.findIndex((step) => step.key === this.at),
    ),
  )
  step = $derived(this.steps[this.index])

  async read() {
    const path = { job_id: this.jobId }
    if (!this.settle(await ask(api.GET('/api/jobs/{job_id}', { params: { path } })))) return
    void this.#askSolder()
    if (this.at) return
    const next = this.named() ?? this.steps.find((step) => !this.done.has(step.key))
    this.at = next?.key ?? this.steps.at(-1)?.key ?? ''
  }

  /** Solder that was flowed is asked about until somebody has said, whoever ticked it. */
  async #askSolder() {
    const { job, jobId } = this
    if (job?.closed_at || !this.#flowed()) return
    const path = { job_id: jobId }
    const answer = await ask(api.GET('/api/jobs/{job_id}/solder', { params: { path } }))
    if (answer?.data) this.solder = answer.data.says
  }

  #flowed(): boolean {
    return this.steps.some(
      (step) => this.done.has(step.key) && step.does.some((one) => one.op === 'solder'),
    )
  }

  /** The step that stands in the address: the one that was looked at before a reload. */
  named(): Step | undefined {
    return this.steps.find((step) => encodeURIComponent(step.key) === router.mark)
  }

  settle(answer: Answer<Job> | undefined): boolean {
    if (!answer) return false
    if (answer.problem) {
      const { status, errors } = answer.problem
      this.mistakes = isAway(status) && this.job ? [] : errors
      this.missing = status === 404
      return false
    }
    this.job = answer.data
    this.mistakes = []
    return true
  }

  /** Lay what a tick has changed on the job that was read. */
  #progress(answer: Answer<Schemas['ProgressOut']>) {
    if (answer.data && this.job) {
      const { solder, told, ...changed } = answer.data
      this.told = told
      this.job = { ...this.job, ...changed }
      if (solder) this.solder = solder
      this.mistakes = []
    } else if (answer.problem && !isAway(answer.problem.status))
      this.mistakes = answer.problem.errors
  }

  /** Send a change of this job; where nobody answers it stays on its way and the card goes on. */
  async send(parcel: Omit<Parcel, 'where'>): Promise<Answer<Job>> {
    const answer = await outbox.send<Job>({ ...parcel, where: `/job/${this.jobId}` })
    this.settle(answer)
    return answer
  }

  /** This heat has to be made once more: it and its pickling are open again, and it counts. */
  async onceMore() {
    const step = this.step
    if (!step || !this.job) return
    const name = this.job.customer_name || this.job.title
    this.#progress(
      await outbox.send<Schemas['ProgressOut']>({
        where: `/job/${this.jobId}`,
        method: 'PUT',
        path: `/api/jobs/${this.jobId}/steps/${step.key}`,
        body: { done: false, once_more: true },
        says: `${name}: “${step.title}” once more`,
      }),
    )
  }

  /** Say once for this job whether its solder is taken from the drawer. */
  async takeSolder(take: boolean) {
    if (!this.job) return
    this.solder = ''
    this.#progress(
      await outbox.send<Schemas['ProgressOut']>({
        where: `/job/${this.jobId}`,
        method: 'PUT',
        path: `/api/jobs/${this.jobId}/solder`,
        body: { take },
        says: `the solder of ${this.job.customer_name || this.job.title}`,
      }),
    )
  }

  async tick(isDone: boolean, again = false) {
    const step = this.step
    const turns = this.#turns
    if (!step || !this.job) return
    const name = this.job.customer_name || this.job.title
    const tick = {
      path: `/api/jobs/${this.jobId}/steps/${step.key}`,
      body: { done: isDone, again },
      at: Date.now(),
    }
    this.#ticking = [...this.#ticking, tick]
    const answer = await outbox.send<Schemas['ProgressOut']>({
      where: `/job/${this.jobId}`,
      method: 'PUT',
      path: tick.path,
      body: tick.body,
      says: `${name}: “${step.title}” ${isDone ? 'done' : 'not done after all'}`,
    })
    this.#progress(answer)
    this.#ticking = this.#ticking.filter((one) => one !== tick)
    if (again || !isDone || (answer.problem && !isAway(answer.problem.status))) return
    if (this.#turns === turns) this.go(1) // unless somebody has turned to a step since, to this one again too
  }

  /** Take it off the bench or put it back; answers what stands against it, at its field. */
  async close(closed: boolean, without = '', slot = ''): Promise<Mistake[]> {
    if (!this.job) return []
    const answer = await this.send({
      method: 'PUT',
      path: `/api/jobs/${this.jobId}/closed`,
      body: { closed, without },
      slot,
      says: `${this.job.customer_name || this.job.title} ${closed ? 'off the bench' : 'on the bench again'}`,
    })
    if (!answer.problem && closed) router.go('/')
    const own = answer.problem?.errors.filter((one) => one.field === 'without') ?? []
    if (own.length) this.mistakes = []
    return own
  }

  go(by: number) {
    this.show(
      this.steps[Math.max(0, Math.min(this.steps.length - 1, this.index + by))]?.key ?? this.at,
    )
  }

  /** How the screen leaves the field that is typed in. */
  leave: () => void = () => undefined

  /** Look at a step. A field that is left by it is left first, so that what was typed there is kept. */
  show(key: string) {
    this.leave()
    this.#turns += 1
    this.at = key
    router.mark = key
  }

  /** What waited has arrived: read the job anew. */
  listen() {
    return outbox.listen((item) => {
      const mine = item.where === `/job/${this.jobId}`
      if (mine) void this.read()
      return mine
    })
  }
}
