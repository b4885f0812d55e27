import { api, ask, type Job, type Mistake, type Order, type RingPlan } from '$lib/api/client'

/** What is typed of an order, word by word, exactly as typed. */
export interface Words {
  size: string
  metal: string
  profile: string
  width: string
  thickness: string
  side: string
  rule: string
  saw: string
  blade: string
  file: string
  trim: string
  leave: string
  round: string
  title: string
  customer: string
  note: string
  day: string
  hour: string
}

export const FIRST: Words = {
  size: 'US 7 1/2',
  metal: 'sterling',
  profile: 'half-round',
  width: '4.0',
  thickness: '1.8',
  side: '',
  rule: 'centroid',
  saw: '1',
  blade: '4/0',
  file: '0',
  trim: '0',
  leave: 'small',
  round: '0.1',
  title: '',
  customer: '',
  note: '',
  day: '',
  hour: '17:00',
}

/** The request behind the words; what is left empty takes ringcraft's default. */
export function toOrder(words: Words, needs: string[], home: string): Order {
  const stock: Record<string, string> = { profile: words.profile, thickness_mm: words.thickness }
  if (needs.includes('width_mm')) stock.width_mm = words.width
  if (needs.includes('side_mm') && words.side.trim()) stock.side_mm = words.side
  const join = {
    saw_passes: words.saw,
    blade: words.blade,
    file_passes: words.file,
    trim_mm: words.trim || '0',
  }
  const order = {
    style: 'plain-band',
    size: words.size,
    metal: words.metal,
    stock,
    rule: words.rule,
    join,
    leave: words.leave,
    round_to_mm: words.round || '0',
    home_scale: home,
  }
  // every word goes over as typed: it is ringcraft that reads it
  return order as unknown as Order
}

/** The words of a kept job, to change it. */
export function fromJob(job: Job, due: string): Words {
  const order = job.order as unknown as {
    size: string
    metal: string
    stock: {
      profile: string
      width_mm: number | null
      thickness_mm: number
      side_mm: number | null
    }
  }
  const used = job.plan.used
  const show = (mm: number | null) => (mm === null ? '' : String(Math.round(mm * 1000) / 1000))
  return {
    size: order.size,
    metal: order.metal,
    profile: order.stock.profile,
    width: show(order.stock.width_mm),
    thickness: show(order.stock.thickness_mm),
    side: show(order.stock.side_mm),
    rule: used.rule,
    saw: String(used.join.saw_passes),
    blade: used.join.blade,
    file: String(used.join.file_passes),
    trim: show(used.join.trim_mm as number),
    leave: used.leave,
    round: show(used.round_to_mm),
    title: job.title,
    customer: job.customer_name,
    note: job.note,
    day: due.slice(0, 10),
    hour: due.slice(11) || '17:00',
  }
}

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
