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
/** Whether the device has no room left. */
export const full = { is: false }

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
  // without locks, as on a page without HTTPS
  Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true })
  server.asked = []
  Object.assign(globalThis, {
    localStorage: store(),
    sessionStorage: store(),
    window: { addEventListener: () => undefined },
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
