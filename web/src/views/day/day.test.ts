import { beforeEach, describe, expect, it, vi } from 'vitest'

const api = vi.hoisted(() => ({ GET: vi.fn(), POST: vi.fn() }))
vi.mock('$lib/api/client', () => ({ api, ask: (answer: unknown) => answer }))
const { DayPlan } = await import('./day.svelte')

const day = (settled: boolean, says = '') => ({ data: { wanted: true, settled, says } })
const away = { problem: { status: 503, errors: [] } }

describe('the plan of a day as a screen shows it', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    api.GET.mockReset()
    api.POST.mockReset()
  })
  it('is not said to be looked for any more where a plan that was kept came meanwhile', async () => {
    const plan = new DayPlan()
    let late: (answer: unknown) => void = () => undefined
    api.POST.mockReturnValue(new Promise((answer) => (late = answer)))
    api.GET.mockResolvedValueOnce(day(false)).mockResolvedValueOnce(day(true, 'kept'))
    const first = plan.read()
    await vi.waitFor(() => expect(plan.looking).toBe(true))
    await plan.read()
    expect([plan.looking, plan.day?.says]).toEqual([false, 'kept'])
    late(day(true, 'too late'))
    await first
    expect([plan.looking, plan.day?.says]).toEqual([false, 'kept'])
  })
  it('is asked for again where the server did not answer, or somebody else looks for it', async () => {
    for (const [answer, wait] of [
      [away, 10_000],
      [{ data: { ...day(false).data, working: true } }, 1_500],
    ] as const) {
      const plan = new DayPlan()
      api.GET.mockResolvedValue(day(false))
      api.POST.mockResolvedValueOnce(answer).mockResolvedValue(day(true, 'better'))
      await plan.read()
      expect([plan.looking, plan.day?.settled]).toEqual([false, false])
      await vi.advanceTimersByTimeAsync(wait)
      expect([plan.looking, plan.day?.says]).toEqual([false, 'better'])
    }
  })
})
