/** A browser's storage and a server, as small as the tests of drafts and the outbox need them. */

export class Storage {
  [name: string]: unknown
  getItem = (name: string) => (Object.hasOwn(this, name) ? String(this[name]) : null)
  setItem = (name: string, value: string) => {
    if (full.is) throw new DOMException('no room', 'QuotaExceededError')
    this[name] = value
  }
  removeItem = (name: string) => Reflect.deleteProperty(this, name)
}
/** One thing for all copies of this module: a page that is loaded anew loads it anew. */
function shared<T>(name: string, fresh: T): T {
  const all = globalThis as unknown as Record<string, T | undefined>
  return (all[`fake ${name}`] ??= fresh)
}

/** Whether the device has no room left: for anything, or for what is larger than so many letters. */
export const full = shared('full', { is: false, above: Infinity })

/** What a browser's database holds, in the place of idb-keyval: it outlives a reload, as that does. */
export const rows = shared('rows', new Map<string, unknown>())
const copy = (value: unknown) => (value === undefined ? undefined : structuredClone(value))
export const keyval = {
  createStore: () => null,
  keys: () => Promise.resolve([...rows.keys()]),
  get: (key: string) => Promise.resolve(copy(rows.get(key))),
  getMany: (keys: string[]) => Promise.resolve(keys.map((key) => copy(rows.get(key)))),
  setMany: (entries: [string, unknown][]) => {
    if (full.is || JSON.stringify(entries).length > full.above)
      return Promise.reject(new DOMException('no room', 'QuotaExceededError'))
    for (const [key, value] of entries) rows.set(key, copy(value))
    return Promise.resolve()
  },
  update: (key: string, how: (old: unknown) => unknown) => {
    rows.set(key, copy(how(copy(rows.get(key)))))
    return Promise.resolve()
  },
  delMany: (keys: string[]) => {
    for (const key of keys) rows.delete(key)
    return Promise.resolve()
  },
}

export interface Asked {
  path: string
  key: string
  ago: number
  body: unknown
}
/** What was asked of the server so far, and how it answers: a status and a body, or nothing at all. */
export const server = {
  asked: [] as Asked[],
  answer: (() => [200, {}]) as (asked: Asked) => [number, unknown] | null,
}

/** Put them in the place of a browser's. */
export function fakeBrowser() {
  const store = () => {
    const made = new Storage()
    for (const name of ['getItem', 'setItem', 'removeItem'])
      Object.defineProperty(made, name, { enumerable: false })
    return made
  }
  full.is = false
  full.above = Infinity
  rows.clear()
  // without locks, as on a page without HTTPS
  Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true })
  server.asked = []
  Object.assign(globalThis, {
    localStorage: store(),
    sessionStorage: store(),
    window: { addEventListener: () => undefined },
    BroadcastChannel: class {
      postMessage = () => undefined
    },
    document: { cookie: 'csrftoken=t', addEventListener: () => undefined },
    location: { pathname: '/', hash: '' },
    history: { replaceState: () => undefined },
    Request: class {
      signal = new AbortController().signal
      constructor(
        readonly url: string,
        readonly init: { headers: Record<string, string>; body: string | null },
      ) {}
    },
    fetch: (request: { url: string; init: { headers: Record<string, string>; body: string } }) => {
      const { headers, body } = request.init
      const asked = {
        path: request.url,
        key: headers['Idempotency-Key'] ?? '',
        ago: Number(headers['Bench-Seconds-Ago']),
        body: body ? (JSON.parse(body) as unknown) : null,
      }
      server.asked.push(asked)
      const answer = server.answer(asked)
      if (!answer) return Promise.reject(new TypeError('nobody answers'))
      const [status, data] = answer
      return Promise.resolve({ ok: status < 300, status, json: () => Promise.resolve(data) })
    },
  })
}
