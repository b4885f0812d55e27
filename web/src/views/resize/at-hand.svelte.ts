/** What there is for an insert: pieces of the drawer, those that suit best first, and what came out of other rings. */
import { api, ask, type ResizePlan, type Schemas } from '$lib/api/client'

export class AtHand {
  /** What it is short by is said. */
  offers = $state.raw<Schemas['Offer'][]>([])
  #batch = $state.raw<Schemas['BatchOut'] | null>(null)
  #asked = false

  get pieces(): Schemas['Spare'][] {
    return this.#batch?.batch.pieces ?? []
  }
  get names(): Record<string, string> {
    return this.#batch?.names ?? {}
  }

  /** Look for what this plan's insert could be cut from; nothing without one. For an effect. */
  follow(plan: ResizePlan | null, jobId: number | null): (() => void) | undefined {
    const figures = plan?.methods.find((one) => one.key === plan.method)?.figures
    const need = Number(figures?.insert_mm ?? figures?.part_mm ?? 0)
    if (plan && !this.#asked) {
      this.#asked = true
      void ask(api.GET('/api/batch')).then((answer) => (this.#batch = answer?.data ?? null))
    }
    if (!plan || !need) {
      this.offers = []
      return undefined
    }
    const { profile, width_mm, thickness_mm, side_mm } = plan.section
    const body = {
      metal: plan.metal.key,
      profile,
      thickness_mm,
      width_mm,
      side_mm,
      need_mm: need,
      job_id: jobId,
    }
    let gone = false
    void ask(api.POST('/api/stock/inserts', { body })).then((answer) => {
      if (!gone && answer?.data) this.offers = answer.data.items
    })
    return () => {
      gone = true
    }
  }
}
