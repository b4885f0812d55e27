/** What is to be cut from what: the stock, the jobs, the saw; the plan follows, and what was seen is booked. */
import { api, ask, isAway, type Mistake, type Schemas } from '$lib/api/client'
import { Draft } from '$lib/draft.svelte'
import { Live } from '$lib/live.svelte'
import { outbox } from '$lib/outbox.svelte'
import { session } from '$lib/session.svelte'

export const ALL = 'all'
export const THESE = 'these'

export class CutState {
  group = $state('')
  when = $state('7')
  picked = $state<number[]>([])
  blade = $state<string>(session.who?.ways?.blade ?? '4/0')
  trim = $state('')
  groups = $state.raw<Schemas['GroupsOut'] | null>(null)
  /** What no piece serves: it takes longer to say, so it comes after. */
  missing = $state.raw<Schemas['MissingOut'] | null>(null)
  refused = $state.raw<Mistake[]>([])
  busy = $state(false)
  #answered = $state('')
  readonly live = new Live<Schemas['ProposedOut']>()
  readonly draft = new Draft(
    'drawer/cut',
    () => ({
      group: this.group,
      when: this.when,
      picked: [...this.picked],
      blade: this.blade,
      trim: this.trim,
    }),
    (typed) => Object.assign(this, typed),
  )

  mistakes = $derived([...this.refused, ...this.live.mistakes])
  chosen = $derived(this.groups?.groups.find((one) => one.key === this.group))
  /** Whether the plan on the screen is of something else than is said: it is not booked then. */
  stale = $derived(this.live.stale || this.#answered !== JSON.stringify(this.body()))
  sheared = $derived(this.blade === 'shears')

  async read() {
    const answer = await ask(api.GET('/api/stock/groups'))
    void this.#lacks(answer?.data?.missing_count ?? 0)
    if (answer?.problem) this.refused = answer.problem.errors
    else if (answer) {
      this.groups = answer.data
      this.#settle()
    }
  }

  async #lacks(count: number) {
    if (!count) this.missing = null
    else this.missing = (await ask(api.GET('/api/stock/missing')))?.data ?? this.missing
  }

  /** Begin: the stock that most is waiting for, or what was typed here before. */
  async begin() {
    await this.read()
    await this.draft.begin()
    this.#settle()
  }

  /** A stock that is not there any more is not cut from. */
  #settle() {
    const groups = this.groups?.groups ?? []
    if (!groups.some((one) => one.key === this.group)) this.#first(groups)
  }

  /** Begin with the stock that most is waiting for. */
  #first(groups: Schemas['GroupOut'][]) {
    const most = [...groups].sort((a, b) => b.wanted.length - a.wanted.length)
    this.group = most[0]?.key ?? ''
  }

  body() {
    const { when } = this
    return {
      group: this.group,
      days: when === ALL || when === THESE ? null : Number(when),
      jobs: when === THESE ? [...this.picked] : null,
      blade: this.sheared ? '' : this.blade,
      sheared: this.sheared,
      end_trim_mm: this.trim.trim() || 0,
    }
  }

  ask(): (() => void) | undefined {
    const body = this.body()
    if (!this.groups || !body.group) return undefined
    return this.live.want(async (signal) => {
      const answer = await ask(api.POST('/api/stock/plan', { body, signal }))
      if (answer?.data) this.#answered = JSON.stringify(body)
      return answer
    })
  }

  pick(job: number) {
    this.picked = this.picked.includes(job)
      ? this.picked.filter((one) => one !== job)
      : [...this.picked, job]
    this.when = THESE
  }

  /** Book the plan that is on the screen; another one is refused and shown. */
  async book() {
    const made = this.live.answer
    if (!made || this.busy || this.stale) return
    this.busy = true
    const answer = await outbox.send<Schemas['ProposedOut']>({
      method: 'POST',
      path: '/api/stock/cuts',
      body: { ...this.body(), key: made.key },
      says: `the cuts from ${made.group.title}`,
      where: '/drawer',
      slot: this.draft.slot,
    })
    this.busy = false
    if (answer.problem) this.refused = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      this.refused = []
      this.draft.done()
      this.#answered = '' // what was seen is cut: it is planned anew
    }
    await this.read()
    return !answer.problem
  }
}
