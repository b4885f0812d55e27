/** A step of the plan that is chosen and moved: by its arrow keys, or by hand. It goes out once it rests. */
import type { Schemas } from '$lib/api/client'
import { router } from '$lib/router.svelte'
import { moved } from './hours'

type Block = Schemas['Block']

const REST_MS = 900
const LEAST_PX = 4

export interface Field {
  /** The people of the rows, in their order. */
  people: number[]
  now: number
  /** Milliseconds that a pixel stands for, where the first row begins, how high a row is. */
  perPx: number
  top: number
  row: number
}

export const idOf = (block: Block) => `step-${block.job_id}-${block.key}`

export class Moving {
  /** The step that is chosen in each row. */
  chosen = $state.raw<Record<number, string>>({})
  pending = $state.raw<{ block: Block; at: number; person: number } | null>(null)
  #timer: ReturnType<typeof setTimeout> | undefined
  #drag: { block: Block; x: number; at: number } | null = null

  constructor(
    readonly field: () => Field,
    readonly blocks: () => Block[],
    readonly onpin: (block: Block, at: number | null, personId: number | null) => void,
  ) {}

  at(block: Block): number {
    return this.#is(block) ? (this.pending?.at ?? 0) : Date.parse(block.begins)
  }

  by(block: Block): number {
    return this.#is(block) ? (this.pending?.person ?? 0) : block.person_id
  }

  /** The steps of a row, in their order. */
  row(person: number): Block[] {
    return this.blocks()
      .filter((one) => this.by(one) === person)
      .sort((a, b) => this.at(a) - this.at(b))
  }

  /** The chosen step of a row: its first, until another is chosen. */
  of(person: number): Block | undefined {
    const row = this.row(person)
    return row.find((one) => idOf(one) === this.chosen[person]) ?? row[0]
  }

  choose(person: number, block: Block | undefined) {
    if (block) this.chosen = { ...this.chosen, [person]: idOf(block) }
  }

  /** A key in a row: up and down choose, left and right move, Page up and down give it to another. */
  keyed(event: KeyboardEvent, person: number) {
    const block = this.of(person)
    if (!block) return
    const row = this.row(person)
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
    const by = { ArrowLeft: -5, ArrowRight: 5 }[event.key]
    const other = { PageUp: -1, PageDown: 1 }[event.key]
    if (step) this.choose(person, row[row.indexOf(block) + step] ?? block)
    else if (by) this.#move(block, by * (event.shiftKey ? 6 : 1), this.by(block))
    else if (other) this.#hand(block, other)
    else if (event.key === 'Enter') router.go(`/job/${block.job_id}`)
    else if (event.key === 'Escape' && this.pending) this.#letGo()
    else if ((event.key === 'Delete' || event.key === 'Backspace') && block.pinned)
      this.onpin(block, null, null)
    else return
    event.preventDefault()
  }

  grabbed(event: PointerEvent, block: Block) {
    this.choose(block.person_id, block)
    if (event.button) return
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    this.#drag = { block, x: event.clientX, at: Date.parse(block.begins) }
  }

  dragging(event: PointerEvent) {
    const { perPx, top, row, people, now } = this.field()
    const drag = this.#drag
    if (!drag || drag.block.begun) return
    const by = event.clientX - drag.x
    if (Math.abs(by) < LEAST_PX && !this.pending) return
    const svg = (event.currentTarget as Element).closest('svg')?.getBoundingClientRect()
    const nth = svg ? Math.floor((event.clientY - svg.top - top) / row) : -1
    const person = people[nth] ?? drag.block.person_id
    const at = Math.max(moved(drag.at, (by * perPx) / 60_000), now)
    this.pending = { block: drag.block, at, person }
  }

  dropped() {
    if (this.#drag && !this.pending) router.go(`/job/${this.#drag.block.job_id}`)
    this.#drag = null
    this.#settle()
  }

  #is(block: Block): boolean {
    return this.pending !== null && idOf(this.pending.block) === idOf(block)
  }

  #move(block: Block, by: number, person: number) {
    if (block.begun) return
    this.choose(person, block)
    const at = Math.max(moved(this.at(block), by), this.field().now)
    this.pending = { block, at, person }
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => this.#settle(), REST_MS)
  }

  #hand(block: Block, by: number) {
    const { people } = this.field()
    const to = people[people.indexOf(this.by(block)) + by]
    if (to !== undefined) this.#move(block, 0, to)
  }

  #settle() {
    clearTimeout(this.#timer)
    if (!this.pending) return
    const { block, at, person } = this.pending
    this.pending = null
    this.onpin(block, Math.max(at, this.field().now + 1000), person)
  }

  #letGo() {
    clearTimeout(this.#timer)
    this.pending = null
  }
}
