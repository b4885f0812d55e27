/** The plan of a day as a screen shows it: at once as it stands, then better, asked for apart so that nothing waits. */
import { api, ask, type Mistake, type Schemas } from '$lib/api/client'

type Day = Schemas['DayOut']

const AGAIN_MS = 1_500

export class DayPlan {
  day = $state.raw<Day | null>(null)
  on = $state<string | null>(null)
  mistakes = $state.raw<Mistake[]>([])
  looking = $state(false)
  #asked = 0
  #timer: ReturnType<typeof setTimeout> | undefined

  /** Read the plan anew; where it was not searched for yet, have it made better. */
  async read() {
    const nth = ++this.#asked
    clearTimeout(this.#timer)
    const query = this.on ? { on: this.on } : {}
    const answer = await ask(api.GET('/api/day', { params: { query } }))
    if (!answer || nth !== this.#asked) return
    this.looking = false // an earlier search that is still under way is not heard any more
    if (answer.problem) return void (this.mistakes = this.#told(answer.problem))
    this.#take(answer.data)
    if (!answer.data.wanted || answer.data.settled) return
    this.looking = true
    const better = await ask(api.POST('/api/day/settle', { params: { query } }))
    if (nth !== this.#asked) return
    this.looking = false
    if (better?.data) this.#take(better.data)
    if (better?.data?.working) this.#timer = setTimeout(() => void this.read(), AGAIN_MS)
  }

  stop() {
    this.#asked += 1
    clearTimeout(this.#timer)
  }

  #take(day: Day) {
    this.day = day
    this.mistakes = []
  }

  #told(problem: { status: number; errors: Mistake[] }): Mistake[] {
    return problem.status === 401 ? [] : problem.errors
  }
}
