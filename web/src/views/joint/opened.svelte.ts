/** What a step opens, read from the server: one time after the other, so that a draft over it is begun once. */
import {
  api,
  ask,
  isAway,
  type Answer,
  type Job,
  type Mistake,
  type Schemas,
} from '$lib/api/client'
import type { Card } from '../card/card.svelte'

export type Sheet = Schemas['SheetOut']

export class Opened {
  sheet = $state.raw<Sheet | null>(null)
  /** What the server would not keep of it. */
  refused = $state.raw<Mistake[]>([])
  #reading = Promise.resolve()

  constructor(
    readonly job: Job,
    readonly key: string,
    readonly card: Card,
  ) {}

  /** Read it; nothing changes while nobody answers. */
  read(): Promise<void> {
    this.#reading = this.#reading.then(() => this.#read())
    return this.#reading
  }

  async #read() {
    const path = { job_id: this.job.id, key: this.key }
    const answer = await ask(api.GET('/api/jobs/{job_id}/joints/{key}', { params: { path } }))
    if (!answer?.data) return
    this.sheet = answer.data
    await this.laid(answer.data)
  }

  /** What stands on the sheet is laid under what is typed. */
  protected laid(sheet: Sheet): Promise<void> {
    return Promise.resolve(void sheet)
  }

  /** Keep something of this step; answers what came of it. What is refused stands at its field. */
  protected async send(seen: unknown, what: string, slot = ''): Promise<Answer<Job>> {
    const answer = await this.card.send({
      method: 'PUT',
      path: `/api/jobs/${this.job.id}/joints/${this.key}`,
      body: { seen },
      says: `${this.job.customer_name || this.job.title}: ${what}`,
      slot,
    })
    if (answer.problem) this.card.mistakes = []
    const errors = answer.problem && !isAway(answer.problem.status) ? answer.problem.errors : []
    this.refused = errors.map((one) => ({ ...one, field: one.field.replace(/^seen\./, '') }))
    return answer
  }
}
