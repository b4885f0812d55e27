/** What the rings of a shop have taught, as a screen holds it. */
import { api, ask, isAway, type Mistake, type Schemas } from '$lib/api/client'
import { outbox } from '$lib/outbox.svelte'
import { session } from '$lib/session.svelte'

type Learnt = Schemas['LearntOut']

export class LearntRecord {
  by = $state('group')
  learnt = $state.raw<Learnt | null>(null)
  chosen = $state('')
  mistakes = $state.raw<Mistake[]>([])
  busy = $state(false)
  #newest = 0

  groups = $derived(this.learnt?.groups ?? [])
  group = $derived(this.groups.find((one) => one.group === this.chosen) ?? this.groups[0] ?? null)
  dots = $derived((this.learnt?.dots ?? []).filter((dot) => dot.label === this.group?.group))

  /** By what an offer of a group is taken; nothing where it is only another look. */
  keyOf(group: Schemas['LearntGroup']): string {
    return this.learnt?.keys[group.group] ?? ''
  }

  async read() {
    const now = ++this.#newest
    const answer = await ask(api.GET('/api/logbook/learnt', { params: { query: { by: this.by } } }))
    if (now !== this.#newest || !answer) return
    if (answer.problem) this.mistakes = answer.problem.errors
    else {
      this.learnt = answer.data
      this.mistakes = []
    }
  }

  async look(by: string) {
    this.by = by
    this.chosen = ''
    await this.read()
  }

  /** A yes to what is offered: dated, and in the next length that is cut. */
  async take(group: Schemas['LearntGroup']) {
    await this.#send(
      `/api/logbook/learnt/${this.keyOf(group)}`,
      { mean_mm: group.mean_mm, version: this.learnt?.workshop_version ?? null },
      `the correction of ${group.group}`,
    )
  }

  async spread(kind: 'truing' | 'cutting', sd_mm: number) {
    const version = kind === 'truing' ? this.learnt?.workshop_version : this.learnt?.mine_version
    await this.#send(`/api/logbook/spread/${kind}`, { sd_mm, version }, `the scatter of ${kind}`)
  }

  async #send(path: string, body: Record<string, unknown>, says: string) {
    if (this.busy) return
    this.busy = true
    try {
      const answer = await outbox.send<Learnt>({
        method: 'PUT',
        path,
        body,
        says,
        where: '/logbook',
      })
      if (answer.problem) {
        if (isAway(answer.problem.status)) return
        const errors = answer.problem.errors
        await this.read()
        this.mistakes = errors
        return
      }
      await this.settled()
    } finally {
      this.busy = false
    }
  }

  /** What is in force is another now: the sheets begin with it. */
  async settled() {
    const ways = await ask(api.GET('/api/ways'))
    if (ways?.data) await session.follow(ways.data.now)
    await this.read()
  }
}
