/** One thing that several people edit: what stands, what is typed over it, and theirs beside mine where it is stale.
 *
 * The version that was read moves on only when somebody has chosen: a reload in between shows theirs again, and no second
 * press writes over what was not seen.
 */
import { isAway, type Mistake, type Problem } from './api/client'
import { Draft } from './draft.svelte'
import { besides, chosen, type Fields, type Row } from './theirs'

interface About<F extends Fields> {
  /** The sheet's name on the device. */
  sheet: string
  labels: Record<keyof F, string>
  stands: F
  version: number
  /** The fields as a refused save tells them, in the words of the sheet. */
  theirs: (told: Record<string, unknown>) => F
}
interface Typed<F> {
  said: F
  base: F
  version: number
}

export class Editing<F extends Fields> {
  said = $state() as F
  mistakes = $state.raw<Mistake[]>([])
  rows = $state.raw<Row[] | null>(null)
  by = $state('')
  at = $state('')
  /** True once it was saved, until something is typed again. */
  kept = $state(false)
  version = 0
  readonly draft: Draft<Typed<F>>
  #base: F
  #sent = ''
  #theirs: { fields: F; version: number } | null = null

  constructor(readonly about: About<F>) {
    this.said = { ...about.stands }
    this.#base = { ...about.stands }
    this.version = about.version
    this.draft = new Draft<Typed<F>>(
      about.sheet,
      () => ({ said: { ...this.said }, base: this.#base, version: this.version }),
      (typed) => {
        this.said = { ...typed.said }
        this.#base = typed.base
        this.version = typed.version
      },
    )
  }

  get touched(): boolean {
    return JSON.stringify(this.said) !== JSON.stringify(this.#base)
  }

  /** What stands now, as it was read: shown, unless something is typed over it. */
  stand(fields: F, version: number) {
    if (this.touched || this.rows || this.version === version) return
    this.#fresh(fields, version)
  }

  /** What is sent now: what is typed on while it is under way is not taken for saved. */
  send(): F {
    this.#sent = JSON.stringify(this.said)
    return { ...this.said }
  }

  /** It was saved: what came back stands, under whatever was typed meanwhile. */
  saved(fields: F, version: number) {
    const same = JSON.stringify(this.said) === (this.#sent || JSON.stringify(fields))
    this.rows = null
    this.mistakes = []
    this.kept = same
    this.#sent = ''
    if (same) return this.#fresh(fields, version)
    this.#base = { ...fields }
    this.version = version
    this.draft.keep()
  }

  /** It was not: theirs are laid beside mine, or what is wrong is said at its field. */
  refused(problem: Problem) {
    this.kept = false
    this.mistakes = isAway(problem.status) || problem.status === 409 ? [] : problem.errors
    if (problem.status !== 409 || !problem.theirs) return
    const theirs = this.about.theirs(problem.theirs)
    this.#theirs = { fields: theirs, version: problem.version ?? this.version }
    this.rows = besides(this.#base, this.said, theirs, this.about.labels)
    this.by = problem.by ?? ''
    this.at = problem.at ?? ''
  }

  /** Lay what was chosen on the sheet, as one who has seen theirs. */
  choose(rows: Row[]) {
    if (!this.#theirs) return
    this.said = chosen(this.said, rows) as F
    this.#base = this.#theirs.fields
    this.version = this.#theirs.version
    this.#theirs = null
    this.rows = null
  }

  #fresh(fields: F, version: number) {
    this.said = { ...fields }
    this.#base = { ...fields }
    this.version = version
    this.draft.done()
  }
}
