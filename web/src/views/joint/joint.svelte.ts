/** A joint as it is looked at: what is typed over what was kept of it. */
import { api, ask, type Job, type Schemas } from '$lib/api/client'
import { Draft } from '$lib/draft.svelte'
import { shop, typed } from '$lib/length.svelte'
import { Live } from '$lib/live.svelte'
import type { Card } from '../card/card.svelte'
import { Opened, type Sheet } from './opened.svelte'
import { asKept, fresh, toSeen, type Fields } from './seen'

export class JointState extends Opened {
  fields = $state<Fields>({})
  readonly live = new Live<Schemas['JointAnswer']>()
  readonly draft: Draft<Fields>
  #stands = ''

  constructor(card: Card, job: Job, key: string) {
    super(job, key, card)
    this.draft = new Draft<Fields>(
      `job/${job.id}/joint/${key}`,
      () => ({ ...this.fields }),
      (said) => (this.fields = { ...said }),
    )
  }

  mistakes = $derived([...this.live.mistakes, ...this.refused])

  /** Begin with what was kept, unless something is typed over it. */
  protected override async laid(sheet: Sheet) {
    const kept = asKept(this.#fresh(), sheet.kept?.fields ?? null)
    const touched = this.draft.ready && JSON.stringify(this.fields) !== this.#stands
    this.#stands = JSON.stringify(kept)
    if (touched) return
    this.fields = kept
    if (this.draft.ready) this.draft.done()
    else await this.draft.begin()
  }

  /** The joint as nobody has looked at it yet, with what was taken of it at a look before. */
  #fresh(): Fields {
    const known = this.sheet?.joint ?? {}
    const views = (this.sheet?.views ?? []).map((one) => one.key)
    return fresh(views, Number(known.passes_made ?? 0), typed(Number(known.filed_mm ?? 0)))
  }

  /** Whether what is on the sheet is what was kept. */
  same = $derived.by(() => {
    const kept = this.sheet?.kept
    return (
      !!kept && JSON.stringify(this.fields) === JSON.stringify(asKept(this.#fresh(), kept.fields))
    )
  })

  /** Whether anybody has looked yet: what nobody has seen is not called sound. */
  begun = $derived.by(
    () => !!this.sheet?.kept || JSON.stringify(this.fields) !== JSON.stringify(this.#fresh()),
  )

  ask(): (() => void) | undefined {
    const known = this.sheet?.joint
    if (!known) return undefined
    const body = {
      ...known,
      ...toSeen(this.fields, shop.units),
    } as unknown as Schemas['JointRequest']
    return this.live.want((signal) => ask(api.POST('/api/plan/joint', { body, signal })))
  }

  async keep() {
    const sent = JSON.stringify(this.fields)
    const seen = toSeen(this.fields, shop.units)
    const answer = await this.send(seen, 'the joint as it was seen', this.draft.slot)
    if (answer.problem) return
    if (JSON.stringify(this.fields) === sent) {
      this.#stands = sent
      this.draft.done()
    }
    await this.read()
  }
}
