/** A ring in the flame: how it is held, what that takes and reaches. */
import { api, ask, isAway, type Job, type Mistake, type Schemas } from '$lib/api/client'
import { Draft } from '$lib/draft.svelte'
import { shop, typed } from '$lib/length.svelte'
import { Live } from '$lib/live.svelte'
import type { Card } from '../card/card.svelte'
import { readSheet, type Sheet } from '../joint/joint.svelte'
import { fresh, rolled, toRequest, type Fields } from './held'

export class HeatState {
  fields = $state<Fields>({})
  sheet = $state.raw<Sheet | null>(null)
  refused = $state.raw<Mistake[]>([])
  readonly live = new Live<Schemas['HeatAnswer']>()
  readonly draft: Draft<Fields>
  readonly card: Card
  readonly job: Job
  readonly key: string
  #stands: Fields = {}
  #reading = Promise.resolve()

  constructor(card: Card, job: Job, key: string) {
    this.card = card
    this.job = job
    this.key = key
    this.draft = new Draft<Fields>(
      `job/${job.id}/heat/${key}`,
      () => this.#typed(),
      (said) => (this.fields = { ...this.#stands, ...said }),
    )
  }

  mistakes = $derived([...this.live.mistakes, ...this.refused])

  /** Read it, one time after the other: a draft is begun once. */
  read(): Promise<void> {
    this.#reading = this.#reading.then(() => this.#read())
    return this.#reading
  }

  async #read() {
    const sheet = await readSheet(this.job.id, this.key)
    if (!sheet) return
    this.sheet = sheet
    if (!sheet.heat) return
    // what nobody typed follows what is known by now
    const said = this.draft.ready ? this.#typed() : {}
    this.#stands = fresh(sheet, typed)
    this.fields = { ...this.#stands, ...said }
    if (!this.draft.ready) await this.draft.begin()
  }

  /** What was typed over what is known: that alone is kept, so that it never holds on to what has changed since. */
  #typed(): Fields {
    return Object.fromEntries(
      Object.entries(this.fields).filter(([name, text]) => text !== this.#stands[name]),
    )
  }

  ask(): (() => void) | undefined {
    const sheet = this.sheet
    if (!sheet?.heat) return undefined
    const body = toRequest(sheet, this.fields, shop.units)
    return this.live.want((signal) => ask(api.POST('/api/plan/heat', { body, signal })))
  }

  roll(by: number) {
    this.fields.roll_deg = rolled(this.fields.roll_deg, by)
  }

  /** Another solder for this joint: the steps say so from now on. */
  async choose(solder: string) {
    const answer = await this.card.send({
      method: 'PUT',
      path: `/api/jobs/${this.job.id}/joints/${this.key}`,
      body: { seen: { solder, units: shop.units } },
      says: `${this.job.customer_name || this.job.title}: ${this.sheet?.joint_title ?? 'the joint'} with another solder`,
    })
    this.card.mistakes = answer.problem ? [] : this.card.mistakes
    const errors = answer.problem && !isAway(answer.problem.status) ? answer.problem.errors : []
    this.refused = errors.map((one) => ({ ...one, field: 'solder' }))
    await this.read()
  }
}
