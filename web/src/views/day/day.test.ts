import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

const api = vi.hoisted(() => ({ GET: vi.fn(), POST: vi.fn() }))
vi.mock('$lib/api/client', () => ({ api, ask: (answer: unknown) => answer }))
const { DayPlan } = await import('./day.svelte')

const day = (settled: boolean, says = '') => ({ data: { wanted: true, settled, says } })

describe('the plan of a day as a screen shows it', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    api.GET.mockReset()
    api.POST.mockReset()
  })
  afterEach(() => vi.useRealTimers())
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
  it('is asked for again where somebody else looks for it', async () => {
    const plan = new DayPlan()
    api.GET.mockResolvedValue(day(false))
    const working = { data: { ...day(false).data, working: true } }
    api.POST.mockResolvedValueOnce(working).mockResolvedValue(day(true, 'better'))
    await plan.read()
    expect([plan.looking, plan.day?.settled]).toEqual([false, false])
    await vi.advanceTimersByTimeAsync(1_500)
    expect([plan.looking, plan.day?.says]).toEqual([false, 'better'])
  })
})
