import { beforeEach, describe, expect, it, vi } from 'vitest'

import { fakeBrowser, full, rows, server } from './testing/fakes'
import { page, parcel } from './testing/page'

vi.mock('idb-keyval', async () => (await import('./testing/fakes')).keyval)

beforeEach(() => {
  vi.useFakeTimers()
  fakeBrowser()
  server.answer = () => [200, { made: true }]
})

describe('what the outbox keeps', () => {
  it('keeps what no storage takes in this tab, says so, and lets no other write push it out', async () => {
    const { outbox, device } = await page()
    const photo = parcel('photo', { image: 'x'.repeat(200_000) })
    server.answer = () => null
    full.above = 100_000
    await outbox.send(photo)
    await vi.advanceTimersByTimeAsync(100)
    expect(outbox.onlyHere.map((item) => item.says)).toEqual(['photo'])
    await outbox.send(parcel('small'))
    device.write('draft', 'a', { text: 'typed' })
    await outbox.start() // signed in again
    await vi.advanceTimersByTimeAsync(100)
    expect(outbox.items.map((item) => [item.says, item.kept])).toEqual([
      ['photo', false],
      ['small', true],
    ])
    server.answer = () => [200, {}]
    server.asked = []
    await outbox.flush()
    expect(server.asked.map((one) => [one.path, JSON.stringify(one.body).length > 1e5])).toEqual([
      ['/api/photo', true],
      ['/api/small', false],
    ])
  })

  it('is safe only once all of it is kept, and holds no large body in the page after', async () => {
    const { outbox } = await page()
    server.answer = () => null
    const sent = outbox.send(parcel('photo', { image: 'x'.repeat(200_000) }))
    expect(outbox.onlyHere.length).toBe(1)
    await sent
    await vi.advanceTimersByTimeAsync(100)
    expect([outbox.onlyHere.length, outbox.items[0]?.body]).toEqual([0, undefined])
    expect([...rows.keys()].filter((key) => /^(line|body)/.test(key)).length).toBe(2)
    const after = await page()
    server.answer = () => [200, {}]
    server.asked = []
    await after.outbox.start()
    await vi.advanceTimersByTimeAsync(20_000)
    expect(JSON.stringify(server.asked[0]?.body).length).toBeGreaterThan(200_000)
    expect([...rows.keys()].filter((key) => /^(line|body)/.test(key))).toEqual([])
  })

  it('has a copy of what is typed before the database has said anything', async () => {
    const { outbox } = await page()
    server.answer = () => null
    void outbox.send(parcel('typed'))
    expect(Object.keys(localStorage).some((name) => name.startsWith('outbox-typed|1.3|'))).toBe(
      true,
    )
    rows.clear() // the tab was closed in this very moment
    const after = await page()
    await after.outbox.start()
    expect(after.outbox.items.map((item) => item.says)).toEqual(['typed'])
  })

  it('moves what an older page left over, once', async () => {
    const old = { ...parcel('old'), slot: '', key: 'k1', at: Date.now(), refused: '', sure: false }
    localStorage.setItem('outbox|1.3|', JSON.stringify([old]))
    const { outbox } = await page()
    server.answer = () => null
    await outbox.start()
    await vi.advanceTimersByTimeAsync(30_000)
    expect(localStorage.getItem('outbox|1.3|')).toBeNull()
    expect(outbox.items.map((item) => item.says)).toEqual(['old'])
    server.answer = () => [200, {}]
    await outbox.flush()
    expect(outbox.items).toEqual([])
  })

  it('sends from one tab at a time where the browser has no locks', async () => {
    const other = await page()
    const mine = await page()
    mine.device.tab = 'another tab'
    server.answer = () => null
    await other.outbox.send(parcel('first'))
    await vi.advanceTimersByTimeAsync(10)
    rows.set('lease|1.3|', { tab: other.device.tab, until: Date.now() + 8_000 })
    server.answer = () => [200, {}]
    server.asked = []
    await mine.outbox.start()
    await vi.advanceTimersByTimeAsync(3_000)
    const byMine = server.asked.length
    await vi.advanceTimersByTimeAsync(30_000)
    expect(server.asked.map((one) => one.path)).toEqual(['/api/first'])
    expect(byMine).toBeLessThanOrEqual(1)
    expect(mine.outbox.items).toEqual([])
  })

  it('says that nothing is kept until that very thing is', async () => {
    const { device } = await page()
    full.is = true
    device.write('draft', 'a', { text: 'long' })
    full.is = false
    device.write('draft', 'b', { text: 'short' })
    expect(device.full).toBe(true)
    device.write('draft', 'a', { text: 'long' })
    expect(device.full).toBe(false)
  })
})
