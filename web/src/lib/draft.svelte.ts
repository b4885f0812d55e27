/** What was typed on a sheet and not sent yet: kept on this device at every letter, by person and workshop.
 *
 * It is picked up again with a word, after a reload, a closed tab, a sign-out, and thrown away on purpose only. Two tabs
 * with the same sheet keep one each.
 */
import { device } from './device.svelte'

/** The shape of what sheets keep: one of another version of this page is left alone, not laid on a sheet. */
const SHAPE = 1

interface Kept<T> {
  shape: number
  at: number
  tab: string
  data: T
}

export class Draft<T> {
  /** When what was picked up had been typed; 0 where the sheet began fresh. */
  since = $state(0)
  /** Others of the same sheet that no open tab holds. */
  others = $state.raw<string[]>([])
  /** Another open tab has this very sheet unfinished: both would be kept, and the second to save is asked. */
  elsewhere = $state(false)
  ready = $state(false)
  #slot = ''
  #fresh = ''

  /** ``read`` says what is on the sheet, ``take`` lays it there. */
  constructor(
    readonly sheet: string,
    readonly read: () => T,
    readonly take: (data: T) => void,
  ) {}

  /** Where it is kept on the device, for the outbox to clear once it is delivered. */
  get slot(): string {
    return this.#slot
  }

  /** Whether something that was sent was typed on this very sheet. */
  owns(slot: string): boolean {
    return slot !== '' && slot === this.#slot
  }

  /** Begin: what is on the sheet now counts as fresh; what was left here before is picked up, unless ``anew``. */
  async begin(anew = false) {
    this.#fresh = JSON.stringify(this.read())
    const free = this.#free(await device.open())
    const own = free.find((name) => this.#kept(name)?.tab === device.tab)
    // a caliper may have typed already: that is not written over
    const typed = JSON.stringify(this.read()) !== this.#fresh
    const mine = anew || typed ? undefined : (own ?? free[0])
    this.#slot = mine ?? this.#newSlot()
    this.others = free.filter((name) => name !== mine)
    this.#pickUp()
    this.ready = true
  }

  /** Look whether another open tab writes on this sheet; called when a tab has kept something. */
  async lookAround() {
    const open = await device.open()
    this.elsewhere = device.names('draft', `${this.sheet}|`).some((name) => {
      const tab = name === this.#slot ? undefined : this.#kept(name)?.tab
      return tab !== undefined && tab !== device.tab && (open?.has(tab) ?? false)
    })
  }

  /** Lay another unfinished one on the sheet; this one stays kept. */
  open(slot: string) {
    this.others = [...this.others.filter((name) => name !== slot), this.#slot]
    this.#slot = slot
    this.#pickUp()
  }

  /** Keep what is on the sheet; called from an effect, so that it runs at every letter. */
  keep() {
    const text = JSON.stringify(this.read())
    if (!this.ready) return
    if (text === this.#fresh) device.remove('draft', this.#slot)
    else {
      const data = JSON.parse(text) as T
      device.write('draft', this.#slot, { shape: SHAPE, at: Date.now(), tab: device.tab, data })
    }
  }

  /** It was sent: what is on the sheet now is fresh. */
  done() {
    this.#fresh = JSON.stringify(this.read())
    device.remove('draft', this.#slot)
    this.since = 0
  }

  /** Thrown away on purpose. */
  drop() {
    const fresh = JSON.parse(this.#fresh) as T
    device.remove('draft', this.#slot)
    this.since = 0
    this.take(fresh)
  }

  #pickUp() {
    const kept = this.#kept(this.#slot)
    this.since = kept?.at ?? 0
    if (!kept) return
    this.take(kept.data)
    device.write('draft', this.#slot, { ...kept, tab: device.tab })
  }

  #free(open: Set<string> | null): string[] {
    return device
      .names('draft', `${this.sheet}|`)
      .map((name) => ({ name, kept: this.#kept(name) }))
      .filter(({ kept }) => kept && (kept.tab === device.tab || !open?.has(kept.tab)))
      .sort((a, b) => (b.kept?.at ?? 0) - (a.kept?.at ?? 0))
      .map(({ name }) => name)
  }

  #kept(slot: string): Kept<T> | null {
    const kept = device.read<Kept<T>>('draft', slot)
    return kept?.shape === SHAPE && kept.data ? kept : null
  }

  #newSlot(): string {
    return `${this.sheet}|${device.newName()}`
  }
}
