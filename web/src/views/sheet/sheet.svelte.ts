/** A sheet of whatever kind of work: what is typed, the plan for it, what is kept of it. */
import { onMount, tick } from 'svelte'

import {
  type Answer,
  type Catalogue,
  type Job,
  type Order,
  type PracticeOrder,
  type ResizeOrder,
  type Schemas,
} from '$lib/api/client'
import { gauges } from '$lib/gauges.svelte'
import { Live } from '$lib/live.svelte'
import { session } from '$lib/session.svelte'
import { Keeping, type Kept } from './keeping.svelte'
import { KEPT_GAUGE, waysOf, type Words } from './order'

export type Gauge = Schemas['GaugeRequest'] | null
interface Planned {
  title: string
}

export abstract class Sheet<P extends Planned> {
  words = $state() as Words
  /** The term that is lit. */
  lit = $state('')
  readonly live = new Live<P>()
  readonly keeping: Keeping
  abstract readonly order: Order | ResizeOrder | PracticeOrder

  constructor(
    readonly catalogue: Catalogue,
    readonly jobId: number | null,
    kept: Pick<Kept, 'work' | 'place' | 'read' | 'labels' | 'styleTitle'>,
  ) {
    this.keeping = new Keeping({
      jobId,
      words: () => this.words,
      lay: (laid) => (this.words = this.upgraded(laid)),
      ...kept,
    })
  }

  /** How the plan of the order as it is typed now is asked for. */
  protected abstract asks(query: {
    ways_of?: string
  }): (signal: AbortSignal) => Promise<Answer<P> | undefined>
  /** Whether enough is said to ask: until then the sheet waits without a word of blame. */
  abstract readonly begun: boolean

  /** What was typed on a sheet of before, as this one calls it. */
  protected upgraded(laid: Words): Words {
    return laid
  }

  /** The ways in force: derived, so that being signed out elsewhere asks for no plan anew. */
  ways: Schemas['Preferences'] = $derived.by(() => session.who?.ways ?? this.catalogue.usual)
  plan = $derived(this.live.answer ?? null)
  job = $derived.by<Job | null>(() => this.keeping.job ?? null)
  mistakes = $derived.by(() =>
    [...(this.begun ? this.live.mistakes : []), ...this.keeping.refused].filter(
      (one, i, all) =>
        all.findIndex((m) => m.field === one.field && m.message === one.message) === i,
    ),
  )

  /** The calibration that a kept job was planned with. */
  protected kept(name: string): Gauge {
    return (this.job?.order[name] ?? null) as Gauge
  }
  /** A kept job stays on its own until another gauge is chosen. */
  protected gaugeOf(key: string, name: string): Gauge {
    if (key === KEPT_GAUGE) return this.kept(name)
    return (gauges.byId(key)?.request ?? null) as Gauge
  }
  protected choicesOf(name: string) {
    const kept = this.kept(name)
    return kept
      ? [{ key: KEPT_GAUGE, title: `the ${kept.name || 'gauge'} as then` }, ...gauges.choices]
      : gauges.choices
  }

  /** Ask for the plan of what is typed; for an effect. */
  follow(): (() => void) | undefined {
    if ((this.jobId && !this.job) || !gauges.loaded || !this.begun) return undefined
    return this.live.want(this.asks(waysOf(this.words, this.jobId)))
  }

  /** While it is under way nothing can be typed that would not be in it; a refusal gives the field back. */
  async keep() {
    const field = document.activeElement as HTMLElement | null
    // somebody was quicker than the first answer: the name comes with the plan
    if (this.begun) await this.live.answered()
    await this.keeping.keep(this.plan?.title ?? '', this.order)
    await tick()
    if (field?.isConnected) field.focus()
  }
}

/** A sheet as its view holds it, from when it is shown until it is left. */
export function useSheet(
  sheet: Pick<Sheet<Planned>, 'live' | 'keeping' | 'jobId' | 'follow'>,
  begin: () => Promise<void>,
  toFirst: () => void,
) {
  const { live, keeping } = sheet
  onMount(() => {
    void gauges.read()
    void begin()
    if (!sheet.jobId) toFirst()
    return () => live.stop()
  })
  $effect(() => sheet.follow())
  $effect(() => keeping.draft.keep())
  $effect(() => keeping.listen())
}
