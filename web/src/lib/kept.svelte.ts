/** Answers that are kept on this device, so that the bench stays usable when nobody answers, even after a reload.
 *
 * Kept are the bench, cards that were opened and sheets, of the last person who was signed in here, for twelve hours;
 * never a price, never a list of customers. They are gone when somebody signs out, may not, is somebody else or plays
 * another part. A page without HTTPS cannot be loaded without its server, and so keeps nothing.
 */
import { createStore, delMany, get, getMany, keys, promisifyRequest } from 'idb-keyval'
import type { UseStore } from 'idb-keyval'

import type { Session } from './api/client'

export const LONGEST_MS = 12 * 3_600_000
/** Of cards and sheets so many each: the newest. */
const MOST = 60
const PRUNE_EVERY = 20
/** Says that an answer is one that was kept, and from when. */
export const KEPT_AT = 'Kept-At'
/** What of a session never stays on a device: prices, and what the demo shows. */
export const PRICES = [
  'hour_price',
  'metal_more',
  'metal_prices',
  'plating_price',
  'refiner_keeps',
  'setting_price',
  'solder_price',
] as const
const SESSION = '/api/session'
const PLAIN = /^\/api\/(catalogue|bench|day|first|gauges|glossary)$/
const CARD = /^\/api\/jobs\/\d+(\/(joints\/[\w.-]+|readings|solder|practice))?$/
const PLAN = /^\/api\/plan\/(ring|resize|practice)$/

/** Who was signed in here last, by what the server said: whose answers these are. */
interface Last {
  person: number
  workshop: number
  sight: string
  at: number
  session: unknown
}
interface Kept {
  at: number
  data: unknown
}

const LAST = 'last'
/** When somebody signed out here last [ms]. */
const LEFT = 'left'
/** A database of the browser's that does not answer holds no screen. */
const PATIENCE_MS = 2_000
const is = (name: string) => `is|${name}`
const at = (name: string) => `at|${name}`
let opened: UseStore | undefined
const store = () => (opened ??= createStore('plain-shank-kept', 'answers'))
const fresh = (when: number) => Date.now() - when >= 0 && Date.now() - when < LONGEST_MS
const sightOf = (who: Session) => `${who.role}|${[...who.may].sort().join()}|${who.epoch}`

function soon<T>(waited: Promise<T>, otherwise: T): Promise<T> {
  return Promise.race([
    waited,
    new Promise<T>((done) => setTimeout(() => done(otherwise), PATIENCE_MS)),
  ])
}

/** Whether an answer to this is one that is kept. */
export function keepable(method: string, path: string): boolean {
  if (method === 'GET') return path === SESSION || PLAIN.test(path) || CARD.test(path)
  return method === 'POST' && PLAN.test(path)
}

/** What of a session stays on a device. */
export function withoutPrices(who: Session): unknown {
  const ways = Object.entries(who.ways).filter(
    ([name]) => !(PRICES as readonly string[]).includes(name),
  )
  return { ...who, demo: null, ways: Object.fromEntries(ways) }
}

class KeptAnswers {
  /** From when the oldest of what is shown is, where it was kept; null where somebody answers. */
  from = $state<number | null>(null)
  readonly able = globalThis.isSecureContext === true && 'indexedDB' in globalThis
  #whose: { person: number; workshop: number }
  #kept = 0

  constructor(whose: { person: number; workshop: number }) {
    this.#whose = whose
  }

  /** What a request is kept by: where it went, and what was asked there. */
  async nameOf(request: Request): Promise<string | null> {
    const address = request.url.replace(/^https?:\/\/[^/]+/, '')
    if (!this.able || !keepable(request.method, address.replace(/\?.*/, ''))) return null
    const body = request.method === 'POST' ? await request.clone().text() : ''
    return `${request.method} ${address} ${body}`
  }

  /** Keep a good answer to what was asked at ``begun``; of a session, who it is. Nobody waits for it for long. */
  async keep(name: string, response: Response, begun: number) {
    const kept = this.#keep(name, response.clone(), begun)
    if (name.startsWith(`GET ${SESSION}`)) await soon(kept, undefined)
  }

  async #keep(name: string, response: Response, begun: number) {
    try {
      const data: unknown = await response.json()
      if (name.startsWith(`GET ${SESSION}`)) await this.signedIn(data as Session, begun)
      else await this.#put(name, data)
    } catch {
      // what cannot be kept is not there later: nothing else is lost
    }
  }

  /** Somebody is signed in, by what the server says: what another, or another part, left is gone.
   *
   * An answer that was on its way while somebody signed out here says nothing any more.
   */
  async signedIn(who: Session, begun = Date.now()) {
    if (!this.able || who.wants_code) return
    if (!who.signed_in) return this.wipe()
    const { person_id: person, workshop_id: workshop } = who
    const now: Last = {
      person,
      workshop,
      sight: sightOf(who),
      at: Date.now(),
      session: withoutPrices(who),
    }
    await store()('readwrite', (rows) => {
      const left = rows.get(LEFT) as IDBRequest<number | undefined>
      const asked = rows.get(LAST) as IDBRequest<Last | undefined>
      asked.onsuccess = () => {
        const last = asked.result
        if (!last && left.result !== undefined && begun <= left.result) return
        const same =
          last && last.person === person && last.workshop === workshop && last.sight === now.sight
        if (!same) rows.clear()
        rows.put(now, LAST)
      }
      return promisifyRequest(rows.transaction)
    }).catch(() => undefined)
  }

  /** The answer that was kept, where there is one of this person, not too old. */
  instead(name: string): Promise<Response | null> {
    return soon(this.#instead(name), null)
  }

  async #instead(name: string): Promise<Response | null> {
    try {
      const last = await get<Last>(LAST, store())
      if (!last || !fresh(last.at)) {
        if (last) await this.wipe()
        return null
      }
      if (name.startsWith(`GET ${SESSION}`)) return this.#shown(last.at, last.session)
      if (last.person !== this.#whose.person || last.workshop !== this.#whose.workshop) return null
      const kept = await get<Kept>(is(name), store())
      if (!kept) return null
      if (fresh(kept.at)) return this.#shown(kept.at, kept.data)
      await delMany([is(name), at(name)], store())
    } catch {
      // a device that keeps nothing gives nothing back
    }
    return null
  }

  /** Nothing stays; after a sign-out what was asked before it is not kept either. */
  async wipe({ left = false } = {}) {
    if (!this.able) return
    const now = Date.now()
    await store()('readwrite', (rows) => {
      const before = rows.get(LEFT) as IDBRequest<number | undefined>
      before.onsuccess = () => {
        rows.clear()
        const at = left ? now : before.result
        if (at !== undefined) rows.put(at, LEFT)
      }
      return promisifyRequest(rows.transaction)
    }).catch(() => undefined)
  }

  /** Somebody answers. */
  live() {
    this.from = null
  }

  #shown(when: number, data: unknown): Response {
    this.from = Math.min(when, this.from ?? when)
    return Response.json(data, { headers: { [KEPT_AT]: String(when) } })
  }

  /** In one transaction with the question whose it is: after a sign-out nothing is kept any more. */
  async #put(name: string, data: unknown) {
    const { person, workshop } = this.#whose
    await store()('readwrite', (rows) => {
      const asked = rows.get(LAST) as IDBRequest<Last | undefined>
      asked.onsuccess = () => {
        const last = asked.result
        if (!last || last.person !== person || last.workshop !== workshop) return
        rows.put({ ...last, at: Date.now() } satisfies Last, LAST) // the server knows them still
        rows.put({ at: Date.now(), data } satisfies Kept, is(name))
        rows.put(Date.now(), at(name))
      }
      return promisifyRequest(rows.transaction)
    })
    if (this.#kept++ % PRUNE_EVERY === 0) await this.#prune()
  }

  /** What is too old goes, and what is more than a device need hold. */
  async #prune() {
    const names = (await keys<string>(store())).filter((name) => name.startsWith('at|'))
    const times = await getMany<number>(names, store())
    const known = names
      .map((name, nth) => ({ name: name.slice(3), at: times[nth] ?? 0 }))
      .sort((a, b) => b.at - a.at)
    const over = known.filter((one, nth) => nth >= MOST || !fresh(one.at))
    if (over.length)
      await delMany(
        over.flatMap((one) => [is(one.name), at(one.name)]),
        store(),
      )
  }
}

/** That this person has left, while nobody answered: the server is told before anything else is asked. */
export const leaving = {
  NAME: 'plain-shank-leaving',
  get is(): boolean {
    try {
      return localStorage.getItem(this.NAME) !== null
    } catch {
      return false
    }
  },
  begin(): boolean {
    try {
      localStorage.setItem(this.NAME, '1')
      return true
    } catch {
      return false
    }
  },
  end() {
    try {
      localStorage.removeItem(this.NAME)
    } catch {
      // nothing is kept where nothing can be
    }
  },
}

export { KeptAnswers }
