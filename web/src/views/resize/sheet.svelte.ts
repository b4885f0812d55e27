/** The sheet of a ring that comes in: what is typed, what can be done with it, what is kept of it. */
import { tick } from 'svelte'

import { api, ask, type Catalogue, type Job, type ResizePlan, type Schemas } from '$lib/api/client'
import { gauges } from '$lib/gauges.svelte'
import { Live } from '$lib/live.svelte'
import { session } from '$lib/session.svelte'
import { toField } from '$lib/text'
import { Keeping } from '../ring/keeping.svelte'
import { KEPT_GAUGE, waysOf, type Words } from '../ring/order'
import { first, fromJob, IDEAL_GAUGE, labelsOf, TO_GAUGE, toOrder } from './order'

type Gauge = Schemas['GaugeRequest'] | null

export class ResizeSheet {
  words = $state() as Words
  lit = $state('')
  readonly live = new Live<ResizePlan>()
  readonly keeping!: Keeping
  readonly catalogue!: Catalogue
  readonly jobId: number | null = null

  constructor(catalogue: Catalogue, jobId: number | null) {
    this.catalogue = catalogue
    this.jobId = jobId
    this.words = first(this.ways)
    this.keeping = new Keeping({
      jobId,
      work: 'resize',
      place: 'resize',
      words: () => this.words,
      lay: (laid) => (this.words = laid),
      read: (job) => fromJob(job, toField(job.due), this.ways),
      labels: () => labelsOf(catalogue),
      styleTitle: () => '',
    })
  }

  ways: Schemas['Preferences'] = $derived(session.who?.ways ?? this.catalogue.usual)
  job = $derived<Job | null>(this.keeping.job ?? null)
  plan = $derived(this.live.answer ?? null)
  /** Whether enough is said to ask: until then the sheet waits without a word of blame. */
  begun = $derived(
    ['from', 'to', 'shank.thickness_mm'].every((path) => this.words.fields[path]?.trim()),
  )
  #kept(name: 'from_gauge' | 'to_gauge'): Gauge {
    return (this.job?.order[name] ?? null) as Gauge
  }
  #gauge(key: string, name: 'from_gauge' | 'to_gauge'): Gauge {
    if (key === KEPT_GAUGE) return this.#kept(name)
    return (gauges.byId(key)?.request ?? null) as Gauge
  }
  fromGauge = $derived(this.#gauge(this.words.gauge, 'from_gauge'))
  toGauge = $derived(
    this.words.fields[TO_GAUGE]
      ? this.#gauge(this.words.fields[TO_GAUGE], 'to_gauge')
      : this.fromGauge,
  )
  fromChoices = $derived(this.#choices(this.#kept('from_gauge')))
  toChoices = $derived([
    { key: '', title: 'the same' },
    ...this.#choices(this.#kept('to_gauge')).map((one) =>
      one.key ? one : { ...one, key: IDEAL_GAUGE },
    ),
  ])
  #choices(kept: Gauge) {
    return kept
      ? [{ key: KEPT_GAUGE, title: `the ${kept.name || 'gauge'} as then` }, ...gauges.choices]
      : gauges.choices
  }
  order = $derived(
    toOrder(this.words, {
      catalogue: this.catalogue,
      ways: this.ways,
      jobId: this.jobId,
      gauge: this.fromGauge,
      toGauge: this.toGauge,
    }),
  )
  mistakes = $derived(
    [...(this.begun ? this.live.mistakes : []), ...this.keeping.refused].filter(
      (one, i, all) =>
        all.findIndex((m) => m.field === one.field && m.message === one.message) === i,
    ),
  )

  /** Ask what can be done with what is typed; for an effect. */
  follow(): (() => void) | undefined {
    if ((this.jobId && !this.job) || !gauges.loaded || !this.begun) return undefined
    const body = this.order
    const query = waysOf(this.words, this.jobId)
    return this.live.want((signal) =>
      ask(api.POST('/api/plan/resize', { body, params: { query }, signal })),
    )
  }

  /** Make it the size of a finger on file, on the gauge that it was measured with. */
  take(finger: Schemas['FingerOut']) {
    this.words.fields.to = finger.text
    this.words.fields[TO_GAUGE] = finger.gauge_id ? String(finger.gauge_id) : IDEAL_GAUGE
  }

  async keep() {
    const field = document.activeElement as HTMLElement | null
    await this.keeping.keep(this.plan?.title ?? '', this.order)
    await tick()
    if (field?.isConnected) field.focus()
  }
}
