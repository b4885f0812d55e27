/** What is on its way: each write waits here, in order, until the server has said that it has it.
 *
 * It outlives a reload and an outage. Each has a key of its own, so that a lost answer never makes a thing twice, and
 * knows how long ago it was done, so that a wait counts from then.
 */
import {
  headers,
  isAway,
  patient,
  problemOf,
  thrown,
  type Answer,
  type Problem,
} from './api/client'
import { device } from './device.svelte'

export interface Item {
  key: string
  method: 'POST' | 'PUT' | 'DELETE'
  path: string
  body: unknown
  /** When it was done, by this device's clock [ms]. */
  at: number
  /** What it is, in words: the tick of Solder. */
  says: string
  /** The sheet that it was typed on, and where its draft is kept. */
  where: string
  slot: string
  /** Why the server would not have it; empty while it is on its way. */
  refused: string
  /** Somebody has said that it shall go out, however old it is. */
  sure: boolean
}
export type Parcel = Pick<Item, 'method' | 'path' | 'body' | 'says' | 'where'> &
  Partial<Pick<Item, 'slot' | 'key'>>

const KIND = 'outbox'
/** Doors that have moved since something was left on this device: the one for each kind of work is one for all. */
function moved({ path, body }: Pick<Item, 'path' | 'body'>): Pick<Item, 'path' | 'body'> {
  if (path === '/api/gauges/chart') return { path: '/api/charts', body }
  const old = /^(\/api\/jobs(?:\/\d+)?)\/resize$/.exec(path)
  return old?.[1] ? { path: old[1], body: { ...(body as object), work: 'resize' } } : { path, body }
}

const FIRST_MS = 1_000
const LONGEST_MS = 15_000
const BROKEN_TRIES = 4
/** The server knows a key for fourteen days: what is older could be made twice, so a person is asked. */
const OLDEST_MS = 13 * 86_400_000
const TOO_OLD =
  'It has waited for a long time and may have arrived unseen: look first, then send it again or drop it.'

/** Told of what has arrived from a screen; true if it was theirs, so that nobody else need say it. */
type Listener = (item: Item, data: unknown) => boolean

class Outbox {
  items = $state.raw<Item[]>([])
  /** What was delivered while nobody waited for it, to say so. */
  delivered = $state.raw<{ item: Item; data: unknown } | null>(null)
  #waiting = new Map<string, { item: Item; settle: (answer: Answer<unknown>) => void }>()
  #timer: ReturnType<typeof setTimeout> | undefined
  #pause = FIRST_MS
  #broken = 0
  #busy = false
  #stopped = false
  #again = false
  #listeners = new Set<Listener>()

  constructor() {
    window.addEventListener('online', () => void this.flush())
    window.addEventListener('storage', (event) => {
      if (device.isAbout(event, KIND, '')) this.#load()
    })
  }

  /** Begin for the person who has just come in: what was left is sent. */
  start() {
    this.#load()
    void this.flush()
  }

  get onTheirWay(): Item[] {
    return this.items.filter((item) => !item.refused)
  }

  get refused(): Item[] {
    return this.items.filter((item) => item.refused)
  }

  /** Send something. Where the server does not answer it stays here, and the problem says so. */
  send<T>(parcel: Parcel): Promise<Answer<T>> {
    const key = parcel.key || device.newName()
    const item = { slot: '', ...parcel, key, at: Date.now(), refused: '', sure: false }
    this.#change((items) => [...items, item])
    const answer = new Promise<Answer<T>>((settle) =>
      this.#waiting.set(item.key, { item, settle: (done) => settle(done as Answer<T>) }),
    )
    this.#again = this.#busy
    void this.flush()
    return answer
  }

  /** Whether something typed there is on its way. */
  from(where: string): Item[] {
    return this.onTheirWay.filter((item) => item.where === where)
  }

  /** Hear of what arrives later than somebody waited for it; the answer ends it. For an effect. */
  listen(listener: Listener): () => void {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }

  /** Take something back that has not been delivered, or that was refused. */
  drop(key: string) {
    this.#change((items) => items.filter((item) => item.key !== key))
  }

  retry(key: string) {
    this.#mark(key, { refused: '', sure: true })
    void this.flush()
  }

  /** Send what waits, one after another, in the order it was done; one tab at a time. */
  async flush() {
    if (this.#busy || (!this.onTheirWay.length && !this.#waiting.size)) return
    this.#busy = true
    this.#stopped = this.#again = false
    clearTimeout(this.#timer)
    try {
      if ('locks' in navigator) await navigator.locks.request(KIND, () => this.#sendAll())
      else await this.#sendAll()
    } finally {
      this.#busy = false
    }
    // what was sent in the very moment of stopping has a try of its own
    if ((this.#again || !this.#stopped) && this.onTheirWay.length) void this.flush()
  }

  async #sendAll() {
    this.#load()
    await this.#askAfter()
    for (let item = this.onTheirWay[0]; item; item = this.onTheirWay[0]) {
      if (!item.sure && Date.now() - item.at > OLDEST_MS) {
        this.#mark(item.key, { refused: TOO_OLD })
        continue
      }
      const answer = await this.#carry(item)
      if (!answer.problem || !this.#mayComeAgain(answer.problem)) {
        this.#settle(item, answer)
        continue
      }
      this.#stopped = true
      for (const key of [...this.#waiting.keys()]) this.#tell(key, answer)
      if (answer.problem.status !== 401) this.#later()
      return
    }
    this.#pause = FIRST_MS
  }

  /** What this tab waits for and another tab has sent: its key brings the same answer again. */
  async #askAfter() {
    for (const [key, { item }] of [...this.#waiting]) {
      const here = this.items.find((one) => one.key === key)
      if (!here) this.#tell(key, await this.#carry(item))
      else if (here.refused)
        this.#tell(key, {
          data: null,
          problem: { status: 422, errors: [{ field: '', message: here.refused, hint: '' }] },
        })
    }
  }

  /** Send one, once more with a fresh token where the page's had become too old. */
  async #carry(item: Item): Promise<Answer<unknown>> {
    const answer = await this.#fetch(item)
    if (answer.problem?.kind !== 'forbidden') return answer
    await fetch('/api/session').catch(() => undefined)
    return this.#fetch(item)
  }

  async #fetch(item: Item): Promise<Answer<unknown>> {
    const ago = Math.max(0, Math.round((Date.now() - item.at) / 1000))
    const { path, body } = moved(item)
    const request = new Request(path, {
      method: item.method,
      body: body === undefined ? null : JSON.stringify(body),
      headers: {
        ...headers(),
        'Content-Type': 'application/json',
        'Idempotency-Key': item.key,
        'Bench-Seconds-Ago': String(ago),
      },
    })
    try {
      const response = await patient(request)
      const body: unknown = await response.json().catch(() => undefined)
      if (response.ok && body !== undefined) return { data: body, problem: null }
      return { data: null, problem: problemOf(response.ok ? 0 : response.status, body) }
    } catch (cause) {
      return { data: null, problem: thrown(cause) ?? { status: 0, errors: [] } }
    }
  }

  /** Nobody answered, or nobody is signed in: the same may come again. What broke the server comes a few times. */
  #mayComeAgain({ status, kind }: Problem): boolean {
    if (kind === 'somebody-else' || status === 401 || isAway(status)) return true
    if (status !== 500 && status !== 429) return false
    this.#broken += 1
    return this.#broken < BROKEN_TRIES
  }

  #settle(item: Item, answer: Answer<unknown>) {
    this.#broken = 0
    const waited = this.#waiting.has(item.key)
    if (!answer.problem) {
      if (item.slot) device.remove('draft', item.slot)
      this.drop(item.key)
      if (waited) return this.#tell(item.key, answer)
      const heard = [...this.#listeners].filter((hears) => hears(item, answer.data))
      if (!heard.length) this.delivered = { item, data: answer.data }
    } else if (waited) this.drop(item.key)
    else {
      const said = answer.problem.errors.map((one) => `${one.message} ${one.hint}`.trim()).join(' ')
      this.#mark(item.key, { refused: said || 'It was refused.' })
    }
    this.#tell(item.key, answer)
  }

  #tell(key: string, answer: Answer<unknown>) {
    this.#waiting.get(key)?.settle(answer)
    this.#waiting.delete(key)
  }

  #later() {
    this.#timer = setTimeout(() => void this.flush(), this.#pause)
    this.#pause = Math.min(this.#pause * 2, LONGEST_MS)
  }

  #load() {
    this.items = device.read<Item[]>(KIND, '') ?? []
  }

  #mark(key: string, what: Partial<Item>) {
    this.#change((items) => items.map((one) => (one.key === key ? { ...one, ...what } : one)))
  }

  /** Read anew, change, write: another tab may have added something. */
  #change(how: (items: Item[]) => Item[]) {
    this.items = how(device.read<Item[]>(KIND, '') ?? [])
    if (this.items.length) device.write(KIND, '', this.items)
    else device.remove(KIND, '')
  }
}
export const outbox = new Outbox()
