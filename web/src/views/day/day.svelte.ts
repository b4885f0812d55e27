/** The plan of a day as a screen shows it: at once as it stands, then better, asked for apart so that nothing waits. */
import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
import { outbox } from '$lib/outbox.svelte'
import { pulse } from '$lib/pulse.svelte'

type Day = Schemas['DayOut']
type Block = Schemas['Block']

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

  /** Put a step at a time of the plan, for a person; without a time it is let go. */
  async pin(block: Block, at: Date | null, personId: number | null) {
    await this.#send('PUT', 'pins', at ? `${block.name} put at a time` : `${block.name} let go`, {
      job_id: block.job_id,
      key: block.key,
      at: at?.toISOString() ?? null,
      person_id: personId,
    })
    await this.read()
  }

  take(jobId: number, key: string, name: string) {
    return this.#send('POST', 'take', `${name} taken in hand`, { job_id: jobId, key })
  }

  giveBack(jobId: number, key: string, name: string) {
    return this.#send('POST', 'give', `${name} given back`, { job_id: jobId, key })
  }

  async #send(method: 'POST' | 'PUT', what: string, says: string, body: object) {
    const path = `/api/day/${what}`
    const done = await outbox.send<Schemas['Pulse']>({ method, path, body, says, where: '/' })
    this.mistakes = done.problem?.errors ?? []
    if (!done.problem) pulse.take(done.data)
  }

  #take(day: Day) {
    this.day = day
    this.mistakes = []
  }

  #told(problem: { status: number; errors: Mistake[] }): Mistake[] {
    return problem.status === 401 ? [] : problem.errors
  }
}
