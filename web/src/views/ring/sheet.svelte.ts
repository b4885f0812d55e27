/** The order's sheet: what is typed, the plan for it, what is kept of it. The view only shows this. */
import { tick } from 'svelte'

import { api, ask, type Catalogue, type Job, type RingPlan, type Schemas } from '$lib/api/client'
import { gauges } from '$lib/gauges.svelte'
import { movedTo } from '$lib/length.svelte'
import { Live } from '$lib/live.svelte'
import { session } from '$lib/session.svelte'
import { toField } from '$lib/text'
import { Keeping } from './keeping.svelte'
import { labelsOf } from './labels'
import {
  chosenKey,
  first,
  fromJob,
  intoStyle,
  KEPT_GAUGE,
  toOrder,
  waysOf,
  type StyleSpec,
  type Words,
} from './order'

const START = 'ring-start'

export class RingSheet {
  words = $state() as Words
  /** Which blank is looked at, the term that is lit, and the scale of the drawing [dots a mm]. */
  at = $state(0)
  lit = $state('')
  scale = $state(20)
  shorthand = $state(false)
  beside = $state(false)
  readonly live = new Live<RingPlan>()
  readonly keeping!: Keeping
  readonly catalogue!: Catalogue
  readonly jobId: number | null = null

  constructor(catalogue: Catalogue, jobId: number | null) {
    this.catalogue = catalogue
    this.jobId = jobId
    this.words = first(this.ways, this.styleOf('plain-band'))
    this.keeping = new Keeping({
      jobId,
      work: 'make',
      place: 'ring',
      words: () => this.words,
      lay: (laid) => (this.words = laid),
      read: (job) => this.#read(job),
      labels: (words) => labelsOf(this.styleOf(words.fields.style), catalogue),
      styleTitle: (key) => this.styleOf(key).title,
    })
  }

  /** The ways in force: derived, so that being signed out elsewhere asks for no plan anew. */
  ways: Schemas['Preferences'] = $derived(session.who?.ways ?? this.catalogue.usual)
  styleOf(key: string | undefined): StyleSpec {
    const styles = this.catalogue.styles
    const found = styles.find((one) => one.key === key) ?? styles[0]
    if (!found) throw new Error('The catalogue has no style.')
    return found
  }

  style = $derived(this.styleOf(this.words.fields.style))
  plan = $derived(this.live.answer ?? null)
  job = $derived(this.keeping.job ?? null)
  kept = $derived((this.job?.order.gauge ?? null) as Schemas['GaugeRequest'] | null)
  /** A kept job stays on the calibration it was planned with until another gauge is chosen. */
  gauge = $derived(
    this.words.gauge === KEPT_GAUGE
      ? this.kept
      : ((gauges.byId(this.words.gauge)?.request ?? null) as Schemas['GaugeRequest'] | null),
  )
  choices = $derived(
    this.kept
      ? [{ key: KEPT_GAUGE, title: `the ${this.kept.name || 'gauge'} as then` }, ...gauges.choices]
      : gauges.choices,
  )
  around = $derived({
    style: this.style,
    catalogue: this.catalogue,
    ways: this.ways,
    jobId: this.jobId,
    gauge: this.gauge,
  })
  order = $derived(toOrder(this.words, this.around))
  mistakes = $derived(
    [...this.live.mistakes, ...this.keeping.refused].filter(
      (one, i, all) =>
        all.findIndex((m) => m.field === one.field && m.message === one.message) === i,
    ),
  )
  blankAt = $derived(Math.min(this.at, (this.plan?.blanks.length ?? 1) - 1))

  /** Begin: the job or a new sheet, with what was typed before, or what another screen asks for. */
  async begin() {
    const start = this.jobId ? null : sessionStorage.getItem(START)
    sessionStorage.removeItem(START)
    await this.keeping.begin(start !== null)
    if (start) {
      const { size, ...rest } = JSON.parse(start) as Partial<Words> & { size?: string }
      const fields = { ...this.words.fields, ...(size ? { size } : {}) }
      this.words = { ...this.words, ...rest, fields }
    }
    this.shorthand = this.words.line !== ''
    this.beside = Object.keys(this.words.beside).length > 0
  }

  /** Ask for the plan of what is typed; for an effect. */
  follow(): (() => void) | undefined {
    if ((this.jobId && !this.job) || !gauges.loaded) return undefined
    const body = this.order
    const query = waysOf(this.words, this.jobId)
    return this.live.want((signal) =>
      ask(api.POST('/api/plan/ring', { body, params: { query }, signal })),
    )
  }

  setStyle(key: string) {
    const before = $state.snapshot(this.words)
    this.words = { ...this.words, ...intoStyle(before, this.style, this.styleOf(key)) }
    this.at = 0
  }

  /** A length that a mark was moved to [mm], as it is typed here. */
  move(field: string, mm: number) {
    this.setField(field, field.endsWith('_mm') ? movedTo(mm) : String(mm))
  }

  /** A field as a drawing or a table sets it; one part of a word of several becomes the one that is given. */
  setField(field: string, value: string) {
    this.words.fields[field] = value
    for (const word of this.style.words) {
      if (word.parts.some((part) => part.field === field) && word.kind === 'one-of')
        this.words.fields[chosenKey(word)] = field
      // a word that is asked for only as another stands brings that other with it
      const [on, wanted] = word.when.split('=')
      if (word.field === field && on && wanted) this.words.fields[on] = wanted
    }
  }

  /** The shorthand line was taken: its fields are laid on the sheet. */
  said(fields: Record<string, string>) {
    if (fields.style && fields.style !== this.style.key) this.setStyle(fields.style)
    for (const [field, value] of Object.entries(fields)) {
      this.words.fields[field] = value
      for (const word of this.style.words)
        if (word.kind === 'one-of' && word.parts.some((part) => part.field === field))
          this.words.fields[chosenKey(word)] = field
    }
    this.shorthand = false
    this.words.line = ''
  }

  toggleBeside() {
    this.beside = !this.beside
    if (!this.beside) this.words.beside = {}
  }

  /** While it is under way nothing can be typed that would not be in it; a refusal gives the field back. */
  /** Make it for a finger on file, on the gauge that it was measured with. */
  take(finger: Schemas['FingerOut']) {
    this.words.fields.size = finger.text
    this.words.gauge = finger.gauge_id ? String(finger.gauge_id) : ''
  }

  async keep() {
    const field = document.activeElement as HTMLElement | null
    await this.keeping.keep(this.plan?.title ?? '', this.order)
    await tick()
    if (field?.isConnected) field.focus()
  }

  #read(job: Job): Words {
    const gauge = job.order.gauge ? KEPT_GAUGE : ''
    const style = this.styleOf(String(job.order.style ?? ''))
    return fromJob(job, toField(job.due), gauge, style)
  }
}
