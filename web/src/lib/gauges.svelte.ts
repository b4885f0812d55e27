import { api, ask, type Schemas } from './api/client'
import { Pages } from './pages.svelte'

export type Gauge = Schemas['GaugeOut']

/** The shop's gauges, fetched once and again whenever one has changed. */
class Gauges {
  readonly #pages = new Pages<Gauge>()

  get list(): Gauge[] {
    return this.#pages.items
  }
  get loaded(): boolean {
    return this.#pages.read
  }

  /** All of them: a sheet must be able to choose every one. */
  read() {
    return this.#pages.all((offset) =>
      ask(api.GET('/api/gauges', { params: { query: { offset } } })),
    )
  }

  get inUse(): Gauge[] {
    return this.list.filter((gauge) => gauge.request && !gauge.put_away)
  }

  /** What can be chosen to read a size on: nothing in particular, or a calibrated gauge. */
  get choices(): { key: string; title: string }[] {
    const calibrated = this.inUse.map((gauge) => ({
      key: String(gauge.id),
      title: `the ${gauge.name}`,
    }))
    return [{ key: '', title: 'an ideal scale' }, ...calibrated]
  }

  byId(id: string | number | null | undefined): Gauge | undefined {
    return this.list.find((gauge) => String(gauge.id) === String(id))
  }
}

export const gauges = new Gauges()
