/** Keeping a sheet: what was typed stays on the device, goes out once, and never over theirs unseen. */
import {
  api,
  ask,
  isAway,
  type Job,
  type Mistake,
  type Order,
  type PracticeOrder,
  type ResizeOrder,
} from '$lib/api/client'
import { NO_DAY, NO_HOUR, readDay, readHour } from '$lib/day'
import { Draft } from '$lib/draft.svelte'
import { Standing } from '$lib/editing.svelte'
import { outbox } from '$lib/outbox.svelte'
import { router } from '$lib/router.svelte'
import { fromField } from '$lib/text'
import { besides, chosen, type Fields, type Row } from '$lib/theirs'
import { flat, labelOf, lay } from './labels'
import { TODAY, type Words } from './order'

interface Typed {
  words: Words
  /** The sheet as it was read, and its version: what a stale save is measured against. */
  base: Words | null
  version: number | null
}
export interface Kept {
  jobId: number | null
  /** Its kind of work, and where it stands on the screen. */
  work: string
  place: string
  words: () => Words
  lay: (words: Words) => void
  read: (job: Job) => Words
  labels: (words: Words) => Fields
  styleTitle: (key: string | undefined) => string
}

export class Keeping extends Standing<Words> {
  job = $state.raw<Job | null>(null)
  refused = $state.raw<Mistake[]>([])
  missing = $state(false)
  busy = $state(false)
  readonly draft: Draft<Typed>
  /** The key of what was taken back: it may have arrived unseen, and must not be made a second time. */
  #key = ''
  #theirs: Job | null = null

  constructor(readonly sheet: Kept) {
    super(null, null)
    this.draft = new Draft<Typed>(
      sheet.jobId ? `${sheet.place}/${sheet.jobId}` : sheet.place,
      // the customer's number follows from the name: it is no letter that anybody typed
      () => ({
        words: { ...sheet.words(), customerId: '' },
        base: this.base,
        version: this.version,
      }),
      (typed) => {
        this.base = typed.base
        this.version = typed.version
        sheet.lay({ ...sheet.words(), ...typed.words })
      },
    )
  }

  /** What of this sheet is on its way: nothing can be typed until it has arrived or is taken back. */
  get pending() {
    return outbox.onTheirWay.find((item) => this.draft.owns(item.slot) && !this.busy)
  }

  private get where(): string {
    return this.sheet.jobId ? `/${this.sheet.place}/${this.sheet.jobId}` : `/${this.sheet.place}`
  }

  /** Begin a new sheet, or read the job; what was typed before is laid over it. */
  async begin(anew: boolean) {
    if (this.sheet.jobId) {
      const job = await this.#read()
      if (!job) return
      this.job = job
      this.base = this.sheet.read(job)
      this.version = job.version
      this.sheet.lay(this.base)
    }
    await this.draft.begin(anew)
    if (this.job && this.version !== this.job.version) this.#show(this.job, '', '')
  }

  /** Something that waited has arrived: go on to the job's card. */
  listen() {
    return outbox.listen((item, data) => {
      const mine = this.draft.owns(item.slot)
      if (mine) this.#done(data as Job)
      return mine
    })
  }

  private get path(): string {
    if (!this.sheet.jobId) return '/api/jobs'
    const today = this.sheet.words().ways === TODAY ? `?ways_of=${TODAY}` : ''
    return `/api/jobs/${this.sheet.jobId}${today}`
  }

  async keep(title: string, order: Order | ResizeOrder | PracticeOrder) {
    const words = this.sheet.words()
    const day = words.day.trim() ? readDay(words.day) : ''
    if (day === null) {
      this.refused = [{ field: 'due', ...NO_DAY }]
      return
    }
    const hour = words.hour.trim() ? readHour(words.hour) : '17:00'
    if (day && hour === null) {
      this.refused = [{ field: 'hour', ...NO_HOUR }]
      return
    }
    const body = {
      work: this.sheet.work,
      title: words.title.trim() || title,
      customer_name: words.customer,
      customer_id: words.customerId ? Number(words.customerId) : null,
      ticket: words.ticket,
      note: words.note,
      due: fromField(day && `${day}T${hour}`),
      order,
      version: this.version,
    }
    this.busy = true
    const answer = await outbox.send<Job>({
      method: this.sheet.jobId ? 'PUT' : 'POST',
      path: this.path,
      body,
      says: `the order of ${[body.customer_name.trim(), body.title].filter(Boolean).join(', ')}`,
      where: this.where,
      slot: this.draft.slot,
      key: this.#key,
    })
    this.busy = false
    if (!answer.problem) return this.#done(answer.data)
    if (this.#key && answer.problem.errors[0]?.field === 'Idempotency-Key') {
      this.#key = ''
      this.refused = [ARRIVED]
      return
    }
    this.refused =
      isAway(answer.problem.status) || answer.problem.status === 401 ? [] : answer.problem.errors
    if (answer.problem.status !== 409) return
    this.refused = []
    const job = await this.#read()
    if (job) this.#show(job, answer.problem.by ?? '', answer.problem.at ?? '')
  }

  /** Take back what is on its way, to change it. */
  takeBack() {
    if (!this.pending) return
    this.#key = this.pending.key
    outbox.drop(this.#key)
  }

  /** Lay on the sheet what was chosen of theirs; it is saved as one who has seen them. */
  choose(rows: Row[]) {
    const theirs = this.seen()
    if (!theirs) return
    const mine = this.sheet.words()
    const whole = rows.find((row) => row.field === WHOLE)
    const start =
      whole?.pick === 'theirs' ? { ...mine, fields: theirs.fields, gauge: theirs.gauge } : mine
    this.sheet.lay(
      lay(
        start,
        chosen(
          flat(start),
          rows.filter((row) => row !== whole),
        ),
      ),
    )
    this.job = this.#theirs
    this.refused = []
  }

  #show(job: Job, by: string, at: string) {
    const theirs = this.sheet.read(job)
    const mine = this.sheet.words()
    const base = this.base ?? mine
    const labels = this.sheet.labels(mine)
    let rows = besides(flat(base), flat(mine), flat(theirs), labels)
      .map((row) => ({ ...row, label: labelOf(row.field, labels) }))
      .filter((row) => row.label)
    if (theirs.fields.style !== mine.fields.style) {
      const order = rows.filter((row) => row.field.startsWith('order.') || row.field === 'gauge')
      const pick = order.every((row) => row.pick === 'theirs') ? 'theirs' : 'mine'
      const row = {
        field: WHOLE,
        label: 'order',
        mine: this.sheet.styleTitle(mine.fields.style),
        theirs: this.sheet.styleTitle(theirs.fields.style),
        pick,
      } as Row
      rows = [row, ...rows.filter((one) => !order.includes(one))]
    }
    this.#theirs = job
    this.beside(theirs, job.version, rows, by, at)
  }

  #done(job: Job) {
    this.#key = ''
    this.draft.done()
    router.go(`/job/${job.id}`)
  }

  async #read(): Promise<Job | null> {
    const path = { job_id: this.sheet.jobId ?? 0 }
    const answer = await ask(api.GET('/api/jobs/{job_id}', { params: { path } }))
    if (answer?.problem) {
      this.missing = answer.problem.status === 404
      this.refused = answer.problem.errors
    }
    return answer?.data ?? null
  }
}

const WHOLE = 'order'
const ARRIVED: Mistake = {
  field: '',
  message: 'As it was before, it had arrived after all and stands on the bench.',
  hint: 'Press again only if there shall be two of them.',
}
