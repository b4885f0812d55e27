/** What goes on in the shop, on every open screen: it asks again and again, and hears in a few bytes that nothing changed. */
import { headers, kept, patient, problemOf, thrown, type Schemas } from './api/client'
import { clock } from './clock.svelte'

type Timer = Schemas['Timer']

const OFTEN_MS = 1_500
const SELDOM_MS = 6_000
const AWAY_MS = 15_000

class Pulse {
  /** Another after every change of anything in the shop. */
  version = $state('')
  timers = $state.raw<Timer[]>([])
  taken = $state.raw<Schemas['TakenStep'][]>([])
  /** How far the server's clock runs before this device's [ms]. */
  #ahead = $state(0)
  #tag = ''
  #timer: ReturnType<typeof setTimeout> | undefined
  #beats = false

  /** What the server's clock says [ms]. */
  get now(): number {
    return clock.now.getTime() + this.#ahead
  }

  /** The waits that are over and that nobody answered yet. */
  readonly ended = $derived(this.timers.filter((one) => this.left(one) <= 0))
  readonly running = $derived(this.timers.filter((one) => this.left(one) > 0))

  /** Milliseconds until a wait ends, by the server's clock. */
  left(one: Timer): number {
    return new Date(one.ends_at).getTime() - this.now
  }

  /** Who has a step in hand, if anybody. */
  holder(jobId: number, key: string) {
    return this.taken.find(
      (one) => one.job_id === jobId && one.key === key && new Date(one.until).getTime() > this.now,
    )
  }

  start() {
    if (this.#beats) return
    this.#beats = true
    document.addEventListener('visibilitychange', this.#seen)
    void this.#beat()
  }

  stop() {
    this.#beats = false
    this.#tag = ''
    clearTimeout(this.#timer)
    document.removeEventListener('visibilitychange', this.#seen)
  }

  /** Ask at once: somebody answers again. */
  again() {
    this.#tag = ''
    if (this.#beats) this.#seen()
  }

  /** What an answer brought, of what was just done here. */
  take(data: Schemas['Pulse']) {
    this.version = data.version
    this.timers = data.timers
    this.taken = data.taken
    this.#ahead = new Date(data.now).getTime() - Date.now()
    this.#tag = `"${data.version}"`
  }

  readonly #seen = () => {
    if (document.visibilityState !== 'visible' || !this.#beats) return
    clearTimeout(this.#timer)
    void this.#beat()
  }

  async #beat() {
    const wait = await this.#ask()
    if (!this.#beats || wait === null) return this.stop()
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.#beat(), wait)
  }

  /** How long until it asks again; null where nobody is signed in. */
  async #ask(): Promise<number | null> {
    const often = document.visibilityState === 'visible' ? OFTEN_MS : SELDOM_MS
    try {
      const seen: Record<string, string> = this.#tag ? { 'If-None-Match': this.#tag } : {}
      const response = await patient(
        new Request('/api/day/pulse', { headers: { ...headers(), ...seen }, cache: 'no-store' }),
      )
      if (response.status === 304) {
        kept.live()
        return often
      }
      const body: unknown = await response.json().catch(() => undefined)
      if (response.ok && body !== undefined) {
        kept.live()
        this.take(body as Schemas['Pulse'])
        return often
      }
      problemOf(response.status, body)
      return response.status === 401 || response.status === 403 ? null : AWAY_MS
    } catch (cause) {
      return thrown(cause) ? AWAY_MS : often
    }
  }
}
export const pulse = new Pulse()
