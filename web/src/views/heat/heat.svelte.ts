/** A ring in the flame: how it is held, what that takes and reaches. */
import { api, ask, type Job, type Schemas } from '$lib/api/client'
import { Draft } from '$lib/draft.svelte'
import { shop, typed } from '$lib/length.svelte'
import { Live } from '$lib/live.svelte'
import type { Card } from '../card/card.svelte'
import { Opened, type Sheet } from '../joint/opened.svelte'
import { fresh, rolled, toRequest, type Fields } from './held'

export class HeatState extends Opened {
  fields = $state<Fields>({})
  readonly live = new Live<Schemas['HeatAnswer']>()
  readonly draft: Draft<Fields>
  #stands: Fields = {}

  constructor(card: Card, job: Job, key: string) {
    super(job, key, card)
    this.draft = new Draft<Fields>(
      `job/${job.id}/heat/${key}`,
      () => this.#typed(),
      (said) => (this.fields = { ...this.#stands, ...said }),
    )
  }

  mistakes = $derived([...this.live.mistakes, ...this.refused])

  /** What nobody typed follows what is known by now. */
  protected override async laid(sheet: Sheet) {
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
    const title = this.sheet?.joint_title ?? 'the joint'
    await this.send({ solder, units: shop.units }, `${title} with another solder`)
    await this.read()
  }
}
