/** What is on its way: each write waits here, in order, until the server has said that it has it.
 *
 * It outlives a reload and an outage. Each has a key of its own, so that a lost answer never makes a thing twice, and
 * knows how long ago it was done, so that a wait counts from then. What is typed is copied at once, since the browser's
 * database takes a moment; what cannot be kept stays in this tab, whatever else is written, and is said.
 */
import {
  headers,
  isAway,
  OTHER_SIGHT,
  owner,
  patient,
  problemOf,
  thrown,
  type Answer,
  type Problem,
} from './api/client'
import { device } from './device.svelte'
import { moved, NEW, OLDEST_MS, SET_BACK, TOO_OLD, type Item, type Parcel } from './outbox-item'
import * as shelf from './shelf'

const KIND = 'outbox'
const TYPED = 'outbox-typed'
const FIRST_MS = 1_000
const LONGEST_MS = 15_000
const BROKEN_TRIES = 4
const whose = () => `${owner.workshop}.${owner.person}`

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

  #tabs = new BroadcastChannel(KIND)
  #writing = new Map<string, Promise<void>>()
  #nth = 0
  #whose = ''

  constructor() {
    window.addEventListener('online', () => void this.flush())
    window.addEventListener('beforeunload', (event) => {
      if (this.onlyHere.length) event.preventDefault() // the browser asks before the tab is closed over it
    })
    this.#tabs.onmessage = () => void this.#load()
  }

  /** Begin for the person who has just come in: what was left is sent. */
  async start() {
    if (this.#whose && this.#whose !== whose()) this.items = []
    this.#whose = whose()
    await this.#load()
    void navigator.storage?.persist?.().catch(() => false)
    void this.flush()
  }

  get onTheirWay(): Item[] {
    return this.items.filter((item) => !item.refused)
  }

  get refused(): Item[] {
    return this.items.filter((item) => item.refused)
  }

  /** What a closed tab would lose. */
  get onlyHere(): Item[] {
    return this.items.filter((item) => !item.kept)
  }

  /** Send something. Where the server does not answer it stays here, and the problem says so. */
  send<T>(parcel: Parcel): Promise<Answer<T>> {
    this.#whose = whose()
    const key = parcel.key || device.newName()
    const item: Item = {
      slot: '',
      ...parcel,
      key,
      at: Date.now(),
      nth: this.#nth++,
      epoch: owner.epoch,
      refused: '',
      refusedAt: '',
      sure: false,
      large: false,
      kept: false,
    }
    this.items = [...this.items, item]
    this.#keep(item)
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
    this.items = this.items.filter((item) => item.key !== key)
    device.remove(TYPED, key)
    this.#write(key, () => shelf.drop(key))
    // there is room now for what was refused before
    for (const item of this.onlyHere) if (!this.#writing.has(item.key)) this.#keep(item)
  }

  retry(key: string) {
    this.#mark(key, { refused: '', refusedAt: '', sure: true })
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
      else await this.#leased()
    } finally {
      this.#busy = false
    }
    // what was sent in the very moment of stopping has a try of its own
    if ((this.#again || !this.#stopped) && this.onTheirWay.length) void this.flush()
  }

  /** Without the browser's locks, on a page without HTTPS: one tab sends, by a lease in the store. */
  async #leased() {
    if (!(await this.#hold())) {
      this.#stopped = true
      return this.#later()
    }
    try {
      await this.#sendAll()
    } finally {
      await shelf.release(device.tab).catch(() => undefined)
    }
  }

  /** Whether this tab may send; where nothing can be kept, no other tab knows of what is here. */
  #hold(): Promise<boolean> {
    return 'locks' in navigator ? Promise.resolve(true) : shelf.lease(device.tab).catch(() => true)
  }

  async #sendAll() {
    await this.#load()
    await this.#askAfter()
    for (let item = this.onTheirWay[0]; item; item = this.onTheirWay[0]) {
      await this.#hold() // its time runs anew with each that is sent
      if (!item.sure && Date.now() - item.at > OLDEST_MS) {
        this.#mark(item.key, { refused: TOO_OLD })
        continue
      }
      if (!item.sure && item.epoch !== owner.epoch) {
        this.#mark(item.key, { refused: SET_BACK })
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
    const { path, body } = moved({ path: item.path, body: await this.bodyOf(item) })
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
    if (!answer.problem || answer.problem.kind === OTHER_SIGHT) {
      if (item.slot) device.remove('draft', item.slot)
      this.drop(item.key)
      if (waited || answer.problem) return this.#tell(item.key, answer)
      const heard = [...this.#listeners].filter((hears) => hears(item, answer.data))
      if (!heard.length) this.delivered = { item, data: answer.data }
    } else if (waited) this.drop(item.key)
    else {
      const said = answer.problem.errors.map((one) => `${one.message} ${one.hint}`.trim()).join(' ')
      const refusedAt = answer.problem.errors[0]?.field ?? ''
      this.#mark(item.key, { refused: said || 'It was refused.', refusedAt })
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

  /** What is on the device, whichever tab left it there, and what is only in this one. */
  async #load() {
    const mine = whose()
    let found: Item[] = []
    try {
      found = await shelf.list<Item>()
    } catch {
      // the browser keeps no database here: what is in this tab is all there is
    }
    if (mine !== whose()) return
    const left = [...this.#copies(), ...(device.read<Item[]>(KIND, '') ?? [])]
    const known = new Set([...found, ...this.items].map((item) => item.key))
    const fresh = left.filter((item) => !known.has(item.key))
    const shelved = new Set(found.map((item) => item.key))
    const copied = new Set(left.map((item) => item.key))
    // one that another tab has delivered is here no longer, unless this tab still has to keep it
    const here = this.items.filter(
      ({ key, kept }) => !shelved.has(key) && (!kept || copied.has(key) || this.#writing.has(key)),
    )
    const adopted = fresh.map((item) => ({ ...NEW, ...item, kept: false }))
    this.items = [...found.map((item) => ({ ...item, kept: true })), ...here, ...adopted].sort(
      (a, b) => a.at - b.at || a.nth - b.nth,
    )
    for (const item of adopted) this.#keep(item)
    for (const item of left) if (shelved.has(item.key)) device.remove(TYPED, item.key)
    if (left.length && !fresh.length) device.remove(KIND, '')
  }

  #copies(): Item[] {
    return device
      .names(TYPED, '')
      .map((name) => device.read<Item>(TYPED, name))
      .filter((item) => item !== null)
  }

  /** What is sent of an item, wherever it lies. */
  async bodyOf(item: Item): Promise<unknown> {
    return item.large && item.body === undefined ? shelf.bodyOf(item.key) : item.body
  }

  /** Keep an item: what is typed at once, and all of it on the shelf. It is safe once that is complete. */
  #keep(item: Item) {
    const text = JSON.stringify(item.body) ?? ''
    const large = text.length > shelf.LARGE
    if (!large && device.write(TYPED, item.key, item)) this.#set(item.key, { kept: true })
    const line = { ...item, large, kept: true, body: large ? undefined : item.body }
    this.#write(
      item.key,
      async () => {
        await shelf.put(line, large ? item.body : undefined)
        device.remove(TYPED, item.key)
      },
      () => this.#set(item.key, { large, kept: true, ...(large ? { body: undefined } : {}) }),
    )
  }

  #mark(key: string, what: Partial<Item>) {
    this.#set(key, what)
    this.#write(key, () => shelf.mark(key, what))
  }

  #set(key: string, what: Partial<Item>) {
    this.items = this.items.map((one) => (one.key === key ? { ...one, ...what } : one))
  }

  /** Write one after another, for each item in its order; what fails leaves the item in this tab. */
  #write(key: string, how: () => Promise<void>, then: () => void = () => undefined) {
    const before = this.#writing.get(key) ?? Promise.resolve()
    const now = before
      .then(how)
      .then(then, () => undefined)
      .then(() => {
        if (this.#writing.get(key) === now) this.#writing.delete(key)
        this.#tabs.postMessage('')
      })
    this.#writing.set(key, now)
  }
}
export const outbox = new Outbox()
