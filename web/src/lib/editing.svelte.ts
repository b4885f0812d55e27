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

/** What stands, as it was read, and theirs beside mine where a save met another's. */
export class Standing<T> {
  rows = $state.raw<Row[] | null>(null)
  by = $state('')
  at = $state('')
  #theirs: { data: T; version: number } | null = null

  constructor(
    protected base: T | null,
    public version: number | null,
  ) {}

  /** Lay theirs beside mine; it is not taken for read until somebody has chosen. */
  protected beside(theirs: T, version: number, rows: Row[], by: string, at: string) {
    this.#theirs = { data: theirs, version }
    Object.assign(this, { rows, by, at })
  }

  /** Theirs have been seen: they are what stands, and what is saved is measured against them. */
  protected seen(): T | null {
    const theirs = this.#theirs
    if (!theirs) return null
    this.base = theirs.data
    this.version = theirs.version
    this.#theirs = null
    this.rows = null
    return theirs.data
  }
}

export class Editing<F extends Fields> extends Standing<F> {
  said = $state() as F
  mistakes = $state.raw<Mistake[]>([])
  /** True once it was saved, until something is typed again. */
  kept = $state(false)
  declare version: number
  declare protected base: F
  readonly draft: Draft<Typed<F>>
  #sent = ''

  constructor(readonly about: About<F>) {
    super({ ...about.stands }, about.version)
    this.said = { ...about.stands }
    this.draft = new Draft<Typed<F>>(
      about.sheet,
      () => ({ said: { ...this.said }, base: this.base, version: this.version }),
      (typed) => {
        this.said = { ...typed.said }
        this.base = typed.base
        this.version = typed.version
      },
    )
  }

  get touched(): boolean {
    return JSON.stringify(this.said) !== JSON.stringify(this.base)
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
    this.base = { ...fields }
    this.version = version
    this.draft.keep()
  }

  /** It was not: theirs are laid beside mine, or what is wrong is said at its field. */
  refused(problem: Problem) {
    this.kept = false
    this.mistakes = isAway(problem.status) || problem.status === 409 ? [] : problem.errors
    if (problem.status !== 409 || !problem.theirs) return
    const theirs = this.about.theirs(problem.theirs)
    const rows = besides(this.base, this.said, theirs, this.about.labels)
    this.beside(theirs, problem.version ?? this.version, rows, problem.by ?? '', problem.at ?? '')
  }

  /** Lay what was chosen on the sheet, as one who has seen theirs. */
  choose(rows: Row[]) {
    if (this.seen()) this.said = chosen(this.said, rows) as F
  }

  #fresh(fields: F, version: number) {
    this.said = { ...fields }
    this.base = { ...fields }
    this.version = version
    this.draft.done()
  }
}
