/** The sheet of a ring to make. The view only shows this. */
import { api, ask, type Catalogue, type Job, type RingPlan, type Schemas } from '$lib/api/client'
import { movedTo } from '$lib/length.svelte'
import { toField } from '$lib/text'
import { chosenKey, KEPT_GAUGE, type Words } from '../sheet/order'
import { Sheet } from '../sheet/sheet.svelte'
import { first, fromJob, intoStyle, labelsOf, toOrder, type StyleSpec } from './order'

const START = 'ring-start'

export class RingSheet extends Sheet<RingPlan> {
  /** Which blank is looked at, and the scale of the drawing [dots a mm]. */
  at = $state(0)
  scale = $state(20)
  shorthand = $state(false)
  beside = $state(false)
  /** Whether its price stands under it. */
  priced = $state(false)
  readonly begun = true

  constructor(catalogue: Catalogue, jobId: number | null) {
    super(catalogue, jobId, {
      work: 'make',
      place: 'ring',
      read: (job) => this.#read(job),
      labels: (words) => labelsOf(this.styleOf(words.fields.style), catalogue),
      styleTitle: (key) => this.styleOf(key).title,
    })
    this.words = first(this.ways, this.styleOf('plain-band'))
  }

  styleOf(key: string | undefined): StyleSpec {
    const styles = this.catalogue.styles
    const found = styles.find((one) => one.key === key) ?? styles[0]
    if (!found) throw new Error('The catalogue has no style.')
    return found
  }

  style = $derived(this.styleOf(this.words.fields.style))
  gauge = $derived(this.gaugeOf(this.words.gauge, 'gauge'))
  choices = $derived(this.choicesOf('gauge'))
  around = $derived.by(() => ({
    style: this.style,
    catalogue: this.catalogue,
    ways: this.ways,
    jobId: this.jobId,
    gauge: this.gauge,
  }))
  order = $derived(toOrder(this.words, this.around))
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

  protected asks(query: { ways_of?: string }) {
    const body = this.order
    return (signal: AbortSignal) =>
      ask(api.POST('/api/plan/ring', { body, params: { query }, signal }))
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

  /** Make it for a finger on file, on the gauge that it was measured with. */
  take(finger: Schemas['FingerOut']) {
    this.words.fields.size = finger.text
    this.words.gauge = finger.gauge_id ? String(finger.gauge_id) : ''
  }

  #read(job: Job): Words {
    const gauge = job.order.gauge ? KEPT_GAUGE : ''
    const style = this.styleOf(String(job.order.style ?? ''))
    return fromJob(job, toField(job.due), gauge, style)
  }
}
