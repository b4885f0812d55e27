/** One piece of the drawer: its words as they are edited, and what is booked of it by hand. */
import { api, ask, isAway, type Mistake, type Problem, type Schemas } from '$lib/api/client'
import { Draft } from '$lib/draft.svelte'
import { Editing } from '$lib/editing.svelte'
import { shop } from '$lib/length.svelte'
import { outbox } from '$lib/outbox.svelte'

type Item = Schemas['OneItem']
export type Words = Record<
  'name' | 'lot' | 'place' | 'owner' | 'solder' | 'price' | 'job_id',
  string
>
const LABELS: Words = {
  name: 'name',
  lot: 'lot',
  place: 'place',
  owner: 'owner',
  solder: 'solder',
  price: 'price of a gram',
  job_id: 'for job',
}

function words(told: Record<string, unknown>): Words {
  const text = (name: string) => {
    const value = told[name]
    return typeof value === 'string' || typeof value === 'number' ? String(value) : ''
  }
  return {
    name: text('name'),
    lot: text('lot'),
    place: text('place'),
    owner: text('owner'),
    solder: text('solder'),
    price: text('price'),
    job_id: text('job_id'),
  }
}

export class ItemState {
  item = $state.raw<Item | null>(null)
  missing = $state(false)
  away = $state.raw<Mistake[]>([])
  move = $state({ kind: 'used', length_mm: '', mass_g: '', note: '' })
  refused = $state.raw<Mistake[]>([])
  editing = $state.raw<Editing<Words> | null>(null)
  readonly draft: Draft<{ kind: string; length_mm: string; mass_g: string; note: string }>

  constructor(readonly id: number) {
    this.draft = new Draft(
      `drawer/${id}/move`,
      () => ({ ...this.move }),
      (typed) => (this.move = { ...this.move, ...typed }),
    )
  }

  get where(): string {
    return `/drawer/${this.id}`
  }

  async read() {
    const answer = await ask(
      api.GET('/api/stock/{item_id}', { params: { path: { item_id: this.id } } }),
    )
    if (answer?.problem) {
      this.missing = answer.problem.status === 404
      this.away = answer.problem.errors
    } else if (answer) await this.#stands(answer.data)
  }

  async #stands(item: Item) {
    this.item = item
    this.away = []
    const fields = words({ ...item })
    if (this.editing) return this.editing.stand(fields, item.version)
    const editing = new Editing<Words>({
      sheet: `drawer/${this.id}`,
      labels: LABELS,
      stands: fields,
      version: item.version,
      theirs: words,
    })
    this.editing = editing
    await Promise.all([editing.draft.begin(), this.draft.begin()])
  }

  /** The movements before those that are shown. */
  async older() {
    const item = this.item
    if (!item) return
    const query = { offset: item.movements.length, limit: 100 }
    const answer = await ask(
      api.GET('/api/stock/{item_id}/moves', { params: { path: { item_id: this.id }, query } }),
    )
    if (answer?.problem) this.away = answer.problem.errors
    else if (answer && item === this.item) {
      const seen = item.movements.map((one) => one.nth)
      const more = answer.data.items.filter((one) => !seen.includes(one.nth))
      this.item = { ...item, movements: [...item.movements, ...more] }
    }
  }

  async save() {
    const editing = this.editing
    if (!editing) return
    const said = editing.send()
    const answer = await outbox.send<Item>({
      method: 'PUT',
      path: `/api/stock/${this.id}`,
      body: {
        ...said,
        price: said.price.trim() || null,
        job_id: said.job_id ? Number(said.job_id) : null,
        version: editing.version,
      },
      says: `the words of ${this.item?.called ?? 'a piece'}`,
      where: this.where,
      slot: editing.draft.slot,
    })
    if (answer.problem) editing.refused(answer.problem)
    else {
      this.item = answer.data
      editing.saved(words({ ...answer.data }), answer.data.version)
    }
  }

  async book() {
    const { kind, length_mm, mass_g, note } = this.move
    const body = {
      kind,
      length_mm: length_mm.trim() || null,
      mass_g: mass_g.trim() || null,
      note,
      moves: this.item?.moves ?? null,
      typed_in: shop.units,
    }
    const answer = await outbox.send<Item>({
      method: 'POST',
      path: `/api/stock/${this.id}/moves`,
      body,
      says: `what was taken from ${this.item?.called ?? 'a piece'}`,
      where: this.where,
      slot: this.draft.slot,
    })
    if (answer.problem) return this.#wrong(answer.problem)
    this.refused = []
    this.move = { kind: this.move.kind, length_mm: '', mass_g: '', note: '' }
    this.draft.done()
    this.item = answer.data
  }

  async back(batch: string) {
    const answer = await outbox.send<{ count: number }>({
      method: 'POST',
      path: `/api/stock/back/${encodeURIComponent(batch)}`,
      body: {},
      says: 'what was booked, taken back',
      where: this.where,
    })
    if (answer.problem) this.#wrong(answer.problem)
    else this.refused = []
    await this.read()
  }

  #wrong(problem: Problem) {
    this.refused = isAway(problem.status) ? [] : problem.errors
    if (problem.errors.some((one) => one.field === 'moves')) void this.read()
  }
}
