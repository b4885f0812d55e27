import { api, ask, type Mistake, type Order, type RingPlan } from '$lib/api/client'

/** The plan for what is typed: asked anew at each letter, the last good answer stays. */
export class LivePlan {
  plan = $state.raw<RingPlan | null>(null)
  mistakes = $state.raw<Mistake[]>([])
  #abort: AbortController | null = null
  #timer: ReturnType<typeof setTimeout> | undefined

  get stale(): boolean {
    return this.mistakes.length > 0
  }

  want(order: Order) {
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.#fetch(order), 40)
  }

  stop() {
    clearTimeout(this.#timer)
    this.#abort?.abort()
  }

  async #fetch(order: Order) {
    this.#abort?.abort()
    this.#abort = new AbortController()
    const answer = await ask(
      api.POST('/api/plan/ring', { body: order, signal: this.#abort.signal }),
    )
    if (!answer) return
    if (answer.problem) this.mistakes = answer.problem.errors
    else {
      this.plan = answer.data
      this.mistakes = []
    }
  }
}
