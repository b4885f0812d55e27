/** What this device keeps: by person and workshop, so that nobody sees what another left unfinished.
 *
 * localStorage and not a database of the browser's: a letter must be kept before the tab is closed over it.
 */
import { owner } from './api/client'

const TAB = 'tab'

/** The names of all that is kept; none where the browser keeps nothing. */
function stored(): string[] {
  try {
    return Object.keys(localStorage)
  } catch {
    return []
  }
}

class Device {
  /** What the device refused to keep, by name: a closed tab loses it. Another write changes nothing about that. */
  #refused = $state.raw<ReadonlySet<string>>(new Set())
  /** This tab, the same after a reload; another one where the tab was doubled. */
  tab = ''

  get full(): boolean {
    return this.#refused.size > 0
  }

  #say(name: string, kept: boolean) {
    if (kept === !this.#refused.has(name)) return
    const others = [...this.#refused].filter((one) => one !== name)
    this.#refused = new Set(kept ? others : [...others, name])
  }

  private name(kind: string, rest: string): string {
    return `${kind}|${owner.workshop}.${owner.person}|${rest}`
  }

  read<T>(kind: string, rest: string): T | null {
    try {
      const text = localStorage.getItem(this.name(kind, rest))
      return text ? (JSON.parse(text) as T) : null
    } catch {
      return null
    }
  }

  /** Keep something at once; whether it is kept. */
  write(kind: string, rest: string, data: unknown): boolean {
    const name = this.name(kind, rest)
    try {
      localStorage.setItem(name, JSON.stringify(data))
      this.#say(name, true)
      return true
    } catch {
      this.#say(name, false)
      return false
    }
  }

  remove(kind: string, rest: string) {
    const name = this.name(kind, rest)
    this.#say(name, true)
    try {
      localStorage.removeItem(name)
    } catch {
      // nothing is kept where nothing can be
    }
  }

  /** The rest of every name of a kind that begins with this. */
  names(kind: string, begin: string): string[] {
    const whole = this.name(kind, begin)
    const skip = this.name(kind, '').length
    return stored()
      .filter((name) => name.startsWith(whole))
      .map((name) => name.slice(skip))
  }

  /** Give this tab its name, and hold it for as long as the tab is open. */
  async start() {
    this.tab = sessionStorage.getItem(TAB) ?? this.newName()
    if (!(await this.hold(this.tab))) {
      this.tab = this.newName()
      await this.hold(this.tab)
    }
    sessionStorage.setItem(TAB, this.tab)
  }

  /** A name that nothing else has; made by hand, since a page without HTTPS is not given one. */
  newName(): string {
    return Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) =>
      byte.toString(16).padStart(2, '0'),
    ).join('')
  }

  /** Which tabs are open; null where the browser does not say. */
  async open(): Promise<Set<string> | null> {
    if (!('locks' in navigator)) return null
    const { held } = await navigator.locks.query()
    return new Set((held ?? []).map((lock) => lock.name ?? ''))
  }

  private hold(name: string): Promise<boolean> {
    if (!('locks' in navigator)) return Promise.resolve(true)
    return new Promise((settle) => {
      void navigator.locks.request(name, { ifAvailable: true }, (lock) => {
        settle(lock !== null)
        return lock ? new Promise(() => undefined) : undefined
      })
    })
  }
}
export const device = new Device()
