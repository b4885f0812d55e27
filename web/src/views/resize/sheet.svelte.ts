/** The sheet of a ring that comes in. */
import { api, ask, type Catalogue, type ResizePlan, type Schemas } from '$lib/api/client'
import { toField } from '$lib/text'
import type { Words } from '../sheet/order'
import { Sheet } from '../sheet/sheet.svelte'
import { first, fromJob, IDEAL_GAUGE, labelsOf, TO_GAUGE, toOrder, upgraded } from './order'

export class ResizeSheet extends Sheet<ResizePlan> {
  constructor(catalogue: Catalogue, jobId: number | null) {
    super(catalogue, jobId, {
      work: 'resize',
      place: 'resize',
      read: (job) => fromJob(job, toField(job.due), catalogue),
      labels: () => labelsOf(catalogue),
      styleTitle: () => '',
    })
    this.words = first(this.ways, catalogue)
  }

  begun = $derived(
    ['from', 'to', 'shank.thickness_mm'].every((path) => this.words.fields[path]?.trim()),
  )
  fromGauge = $derived(this.gaugeOf(this.words.gauge, 'from_gauge'))
  toGauge = $derived(
    this.words.fields[TO_GAUGE]
      ? this.gaugeOf(this.words.fields[TO_GAUGE], 'to_gauge')
      : this.fromGauge,
  )
  fromChoices = $derived(this.choicesOf('from_gauge'))
  toChoices = $derived([
    { key: '', title: 'the same' },
    ...this.choicesOf('to_gauge').map((one) => (one.key ? one : { ...one, key: IDEAL_GAUGE })),
  ])
  order = $derived.by(() =>
    toOrder(this.words, {
      catalogue: this.catalogue,
      ways: this.ways,
      jobId: this.jobId,
      gauge: this.fromGauge,
      toGauge: this.toGauge,
    }),
  )

  protected asks(query: { ways_of?: string }) {
    const body = this.order
    return (signal: AbortSignal) =>
      ask(api.POST('/api/plan/resize', { body, params: { query }, signal }))
  }

  protected override upgraded(laid: Words): Words {
    return upgraded(laid)
  }

  /** Make it the size of a finger on file, on the gauge that it was measured with. */
  take(finger: Schemas['FingerOut']) {
    this.words.fields.to = finger.text
    this.words.fields[TO_GAUGE] = finger.gauge_id ? String(finger.gauge_id) : IDEAL_GAUGE
  }
}
