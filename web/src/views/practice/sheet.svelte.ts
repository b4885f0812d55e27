/** The sheet of a practice. */
import { api, ask, type Catalogue, type PracticePlan } from '$lib/api/client'
import { toField } from '$lib/text'
import { Sheet } from '../sheet/sheet.svelte'
import { first, fromJob, labelsOf, toOrder } from './order'

export class PracticeSheet extends Sheet<PracticePlan> {
  readonly begun = true

  constructor(catalogue: Catalogue, jobId: number | null) {
    super(catalogue, jobId, {
      work: 'practice',
      place: 'practice',
      read: (job) => fromJob(job, toField(job.due), catalogue),
      labels: () => labelsOf(catalogue),
      styleTitle: () => '',
    })
    this.words = first(catalogue)
  }

  order = $derived.by(() =>
    toOrder(this.words, { catalogue: this.catalogue, ways: this.ways, jobId: this.jobId }),
  )

  protected asks(query: { ways_of?: string }) {
    const body = this.order
    return (signal: AbortSignal) =>
      ask(api.POST('/api/plan/practice', { body, params: { query }, signal }))
  }
}
