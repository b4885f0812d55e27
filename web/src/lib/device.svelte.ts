/** What this device keeps: by person and workshop, so that nobody sees what another left unfinished.
 *
 * localStorage and not a database of the browser's: a letter must be kept before the tab is closed over it.
 */
import { owner } from './api/client'

const TAB = 'tab'

class Device {
  /** True once the device refused to keep something: it is said, since then a closed tab loses what was typed. */
  full = $state(false)
  /** This tab, the same after a reload; another one where the tab was doubled. */
  tab = ''

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

  write(kind: string, rest: string, data: unknown) {
    try {
      localStorage.setItem(this.name(kind, rest), JSON.stringify(data))
      this.full = false
    } catch {
      this.full = true
    }
  }

  remove(kind: string, rest: string) {
    localStorage.removeItem(this.name(kind, rest))
  }

  /** The rest of every name of a kind that begins with this. */
  names(kind: string, begin: string): string[] {
    const whole = this.name(kind, begin)
    const skip = this.name(kind, '').length
    return Object.keys(localStorage)
      .filter((name) => name.startsWith(whole))
      .map((name) => name.slice(skip))
  }

  /** Whether a change of the storage in another tab is about this. */
  isAbout(event: StorageEvent, kind: string, rest: string): boolean {
    return event.key === this.name(kind, rest)
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
