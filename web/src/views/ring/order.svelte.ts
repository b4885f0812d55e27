import {
  api,
  ask,
  type Job,
  type Mistake,
  type Order,
  type RingPlan,
  type Schemas,
} from '$lib/api/client'
import { withUnit } from '$lib/units'

/** What is typed of an order, word by word, exactly as typed. */
export interface Words {
  size: string
  gauge: string
  metal: string
  profile: string
  width: string
  thickness: string
  side: string
  wide: string
  rule: string
  saw: string
  blade: string
  file: string
  trim: string
  leave: string
  round: string
  title: string
  customer: string
  customerId: string
  note: string
  day: string
  hour: string
}

export const FIRST: Words = {
  size: 'US 7 1/2',
  gauge: '',
  metal: 'sterling',
  profile: 'half-round',
  width: '4.0',
  thickness: '1.8',
  side: '',
  wide: 'no',
  rule: 'centroid',
  saw: '1',
  blade: '4/0',
  file: '0',
  trim: '0',
  leave: 'small',
  round: '0.1',
  title: '',
  customer: '',
  customerId: '',
  note: '',
  day: '',
  hour: '17:00',
}

/** The request behind the words; what is left empty takes ringcraft's default. */
export function toOrder(
  words: Words,
  needs: string[],
  ways: Schemas['Ways'],
  gauge: Schemas['GaugeRequest'] | null,
): Order {
  const length = (text: string) => withUnit(text, ways.units)
  const stock: Record<string, string> = {
    profile: words.profile,
    thickness_mm: length(words.thickness),
  }
  if (needs.includes('width_mm')) stock.width_mm = length(words.width)
  if (needs.includes('side_mm') && words.side.trim()) stock.side_mm = length(words.side)
  const join = {
    saw_passes: words.saw,
    blade: words.blade,
    file_passes: words.file,
    trim_mm: length(words.trim || '0'),
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
    home_scale: ways.home_scale,
    gauge,
    wide: words.wide === 'yes',
    wide_quarter_from_mm: ways.wide_quarter_from_mm,
    wide_half_from_mm: ways.wide_half_from_mm,
    units: ways.units,
  }
  // every word goes over as typed: it is ringcraft that reads it
  return order as unknown as Order
}

/** The words of a kept job, to change it. */
export function fromJob(job: Job, due: string, gauge: string, units: string): Words {
  const order = job.order as unknown as {
    size: string
    metal: string
    wide?: boolean
    stock: {
      profile: string
      width_mm: number | null
      thickness_mm: number
      side_mm: number | null
    }
  }
  const used = job.plan.used
  const plain = (mm: number | null) => (mm === null ? '' : String(Math.round(mm * 1000) / 1000))
  // a shop that works in inches sees its bare numbers in mm with their unit written out
  const show = (mm: number | null) => plain(mm) + (mm !== null && units === 'in' ? ' mm' : '')
  return {
    size: order.size,
    gauge,
    wide: order.wide ? 'yes' : 'no',
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
    round: plain(used.round_to_mm),
    title: job.title,
    customer: job.customer_name,
    customerId: job.customer_id ? String(job.customer_id) : '',
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

/** The words that a new ring begins with, in this shop's ways. */
export function first(ways: Schemas['Ways']): Words {
  return {
    ...FIRST,
    rule: ways.rule,
    saw: String(ways.saw_passes),
    blade: ways.blade,
    leave: ways.leave,
    round: String(ways.round_to_mm),
    wide: ways.wide ? 'yes' : 'no',
    width: ways.units === 'in' ? '0.157' : FIRST.width,
    thickness: ways.units === 'in' ? '0.071' : FIRST.thickness,
  }
}
