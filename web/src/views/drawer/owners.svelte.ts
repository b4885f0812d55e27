/** Whose a piece can be: the shop's, or bound to an open job; the jobs are asked for once somebody chooses. */
import { api, ask } from '$lib/api/client'

export class Owners {
  #jobs = $state.raw<{ key: string; title: string }[]>([])

  /** What can be chosen; a job that is not open any more stays chosen under its own name. */
  choices(chosen: string, called: string): { key: string; title: string }[] {
    const known = this.#jobs.some((one) => one.key === chosen)
    const kept = chosen && !known ? [{ key: chosen, title: called || 'a job' }] : []
    return [{ key: '', title: 'the shop’s' }, ...this.#jobs, ...kept]
  }

  async open() {
    if (this.#jobs.length) return
    const answer = await ask(api.GET('/api/bench'))
    this.#jobs = (answer?.data?.rings ?? []).map((one) => ({
      key: String(one.id),
      title: `no. ${one.number} ${one.name}`,
    }))
  }
}
