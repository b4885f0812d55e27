/** A question asked anew at each letter: the first at once, those that follow fast a little later, the one before given up, the last good answer kept. */
import type { Answer, Mistake } from './api/client'

type Ask<T> = (signal: AbortSignal) => Promise<Answer<T> | undefined>

export class Live<T> {
  answer = $state.raw<T | null>(null)
  mistakes = $state.raw<Mistake[]>([])
  #abort: AbortController | null = null
  #timer: ReturnType<typeof setTimeout> | undefined

  #wanted = -Infinity
  #heard: (() => void)[] = []

  constructor(readonly wait = 40) {}

  /** True while what is typed cannot be read: the answer is of what was typed before. */
  get stale(): boolean {
    return this.mistakes.length > 0
  }

  /** Ask, at once where nothing was wanted just before, unless something else is asked meanwhile; what comes back stops it, as an effect wants. */
  want(ask: Ask<T>): () => void {
    this.stop()
    const since = performance.now() - this.#wanted
    this.#wanted = performance.now()
    this.#timer = setTimeout(() => void this.#fetch(ask), since > this.wait ? 0 : this.wait)
    return () => this.stop()
  }

  /** Wait until there is an answer, or something wrong: at once where there is one already. */
  answered(): Promise<void> {
    if (this.answer !== null || this.stale) return Promise.resolve()
    return new Promise((heard) => this.#heard.push(heard))
  }

  /** Nothing is asked: there is no answer and nothing wrong. */
  clear() {
    this.stop()
    this.answer = null
    this.mistakes = []
  }

  stop() {
    clearTimeout(this.#timer)
    this.#abort?.abort()
  }

  async #fetch(ask: Ask<T>) {
    const abort = new AbortController()
    this.#abort = abort
    const answer = await ask(abort.signal)
    if (!answer || abort.signal.aborted) return
    if (answer.problem) this.mistakes = answer.problem.errors
    else {
      this.answer = answer.data
      this.mistakes = []
    }
    for (const heard of this.#heard.splice(0)) heard()
  }
}
