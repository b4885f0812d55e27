/** The sheet of a step at a joint or a heat: what is known of the work, and what was kept of it. */
import { api, ask, isAway, type Job, type Mistake, type Schemas } from '$lib/api/client'
import { Draft } from '$lib/draft.svelte'
import { shop, typed } from '$lib/length.svelte'
import { Live } from '$lib/live.svelte'
import type { Card } from '../card/card.svelte'
import { asKept, fresh, toSeen, type Fields } from './seen'

export type Sheet = Schemas['SheetOut']
export type JointAnswer = Schemas['JointAnswer']

/** Read what a step opens; nothing while nobody answers. */
export async function readSheet(jobId: number, key: string): Promise<Sheet | null> {
  const path = { job_id: jobId, key }
  const answer = await ask(api.GET('/api/jobs/{job_id}/joints/{key}', { params: { path } }))
  return answer?.data ?? null
}

export class JointState {
  fields = $state<Fields>({})
  sheet = $state.raw<Sheet | null>(null)
  refused = $state.raw<Mistake[]>([])
  readonly live = new Live<JointAnswer>()
  readonly draft: Draft<Fields>
  readonly card: Card
  readonly job: Job
  readonly key: string
  #stands = ''
  #reading = Promise.resolve()

  constructor(card: Card, job: Job, key: string) {
    this.card = card
    this.job = job
    this.key = key
    this.draft = new Draft<Fields>(
      `job/${job.id}/joint/${key}`,
      () => ({ ...this.fields }),
      (typed) => (this.fields = { ...typed }),
    )
  }

  mistakes = $derived([...this.live.mistakes, ...this.refused])

  /** Read it, one time after the other: a draft is begun once. */
  read(): Promise<void> {
    this.#reading = this.#reading.then(() => this.#read())
    return this.#reading
  }

  /** Begin with what was kept, unless something is typed over it. */
  async #read() {
    const sheet = await readSheet(this.job.id, this.key)
    if (!sheet?.joint) return
    this.sheet = sheet
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
    const answer = await this.card.send({
      method: 'PUT',
      path: `/api/jobs/${this.job.id}/joints/${this.key}`,
      body: { seen: toSeen(this.fields, shop.units) },
      says: `${this.job.customer_name || this.job.title}: the joint as it was seen`,
      slot: this.draft.slot,
    })
    if (answer.problem) {
      this.card.mistakes = []
      const strip = (one: Mistake) => ({ ...one, field: one.field.replace(/^seen\./, '') })
      this.refused = isAway(answer.problem.status) ? [] : answer.problem.errors.map(strip)
      return
    }
    this.refused = []
    if (JSON.stringify(this.fields) === sent) {
      this.#stands = sent
      this.draft.done()
    }
    await this.read()
  }
}
