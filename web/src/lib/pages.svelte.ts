/** A list that comes a page at a time, `{items, count}` from an offset on: nothing of it is cut off silently. */
import type { Answer, Mistake } from './api/client'

export interface Page<T> {
  items: T[]
  count: number
}
type Read<T> = (offset: number) => Promise<Answer<Page<T>> | undefined>

export class Pages<T extends { id: number }> {
  items = $state.raw<T[]>([])
  count = $state(0)
  /** True once a first page has come. */
  read = $state(false)
  mistakes = $state.raw<Mistake[]>([])
  #read: Read<T> | null = null

  get more(): boolean {
    return this.items.length < this.count
  }

  /** Begin the list with its first page. */
  async begin(read: Read<T>) {
    this.#read = read
    this.#settle(await read(0), [])
  }

  /** The next page behind what is here. */
  async go() {
    if (this.#read) this.#settle(await this.#read(this.items.length), this.items)
  }

  /** All of it, page after page. */
  async all(read: Read<T>) {
    await this.begin(read)
    for (let had = -1; this.more && this.items.length > had;) {
      had = this.items.length
      await this.go()
    }
  }

  clear() {
    this.items = []
    this.count = 0
    this.read = false
    this.mistakes = []
  }

  #settle(answer: Answer<Page<T>> | undefined, before: T[]) {
    if (!answer) return
    if (answer.problem) {
      this.mistakes = answer.problem.errors
      return
    }
    // what was added meanwhile at the front shifts the pages: nothing is shown twice
    const fresh = (one: T) => !before.some((had) => had.id === one.id)
    this.items = [...before, ...answer.data.items.filter(fresh)]
    this.count = answer.data.count
    this.read = true
    this.mistakes = []
  }
}
