import { api, ask, type Schemas } from './api/client'

export type Gauge = Schemas['GaugeOut']

/** The shop's gauges, fetched once and again whenever one has changed. */
class Gauges {
  list = $state.raw<Gauge[]>([])
  loaded = $state(false)

  async read() {
    const answer = await ask(api.GET('/api/gauges'))
    if (answer?.data) {
      this.list = answer.data
      this.loaded = true
    }
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
