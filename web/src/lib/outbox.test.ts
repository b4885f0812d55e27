import { beforeEach, describe, expect, it, vi } from 'vitest'

import type { Problem } from './api/client'
import { fakeBrowser, full, server } from './testing/fakes'
import { page, parcel } from './testing/page'

vi.mock('idb-keyval', async () => (await import('./testing/fakes')).keyval)

beforeEach(() => {
  vi.useFakeTimers()
  fakeBrowser()
  server.answer = () => [200, { made: true }]
})

describe('the outbox', () => {
  it('gives the answer to who waits, and keeps nothing', async () => {
    const { outbox } = await page()
    const answer = await outbox.send(parcel('tick'))
    expect(answer.data).toEqual({ made: true })
    expect([outbox.items, outbox.delivered]).toEqual([[], null])
  })

  it('keeps what nobody answers, says so, and sends it in order under its own key', async () => {
    const { outbox } = await page()
    server.answer = () => null
    const first = await outbox.send(parcel('first'))
    const second = await outbox.send(parcel('second'))
    expect([first.problem?.status, second.problem?.status]).toEqual([0, 0])
    expect(outbox.onTheirWay.map((item) => item.says)).toEqual(['first', 'second'])
    const key = server.asked[0]?.key
    server.answer = () => [200, {}]
    server.asked = []
    await vi.advanceTimersByTimeAsync(20_000)
    expect(server.asked.map((one) => one.path)).toEqual(['/api/first', '/api/second'])
    expect(server.asked[0]?.key).toBe(key)
    expect(outbox.items).toEqual([])
  })

  it('says how long ago it was done, and outlives a reload', async () => {
    const before = await page()
    server.answer = () => [503, { kind: 'away', errors: [] }]
    await before.outbox.send(parcel('tick'))
    await vi.advanceTimersByTimeAsync(90_000)
    const after = await page()
    server.answer = () => [200, { made: true }]
    server.asked = []
    void after.outbox.start()
    await vi.advanceTimersByTimeAsync(100)
    expect(server.asked[0]?.ago).toBeGreaterThanOrEqual(90)
    expect(after.outbox.delivered?.item.says).toBe('tick')
  })

  it('asks before it sends what was done before the records were set back', async () => {
    const { outbox, owner } = await page()
    server.answer = () => null
    await outbox.send(parcel('tick'))
    owner.epoch = 1 // a restore meanwhile: the job of that number may be another's by now
    server.answer = () => [200, { made: true }]
    server.asked = []
    await vi.advanceTimersByTimeAsync(60_000)
    expect(server.asked).toEqual([])
    expect(outbox.refused[0]?.refused).toContain('set back to a backup')
    outbox.retry(outbox.refused[0]?.key ?? '')
    await vi.advanceTimersByTimeAsync(20_000)
    expect(server.asked.map((one) => one.path)).toEqual(['/api/tick'])
    expect(outbox.items).toEqual([])
  })

  it('takes an answer that is not for this part any more as delivered', async () => {
    const { outbox } = await page()
    server.answer = () => null
    await outbox.send(parcel('tick'))
    server.answer = () => [403, { kind: 'other-sight', errors: [] }]
    await vi.advanceTimersByTimeAsync(20_000)
    expect(outbox.items).toEqual([])
  })

  it('waits for a sign-in and never passes what stands before', async () => {
    const { outbox } = await page()
    server.answer = () => [401, { kind: 'signed-out', errors: [] }]
    await outbox.send(parcel('first'))
    await outbox.send(parcel('second'))
    expect(server.asked.every((one) => one.path === '/api/first')).toBe(true)
    await vi.advanceTimersByTimeAsync(60_000)
    const tries = server.asked.length
    expect(tries).toBeLessThan(6) // nobody is asked again and again for a password
    server.answer = () => [200, {}]
    await outbox.flush()
    expect(outbox.items).toEqual([])
  })

  it('hands a refusal to who waits, and keeps it in words where nobody does', async () => {
    const { outbox } = await page()
    const refusal = { kind: 'refused', errors: [{ field: 'name', message: 'No.', hint: 'Yes.' }] }
    server.answer = () => [422, refusal]
    const asked = await outbox.send(parcel('asked'))
    expect(asked.problem?.errors[0]?.message).toBe('No.')
    expect(outbox.items).toEqual([])
    server.answer = () => null
    await outbox.send(parcel('late'))
    server.answer = () => [422, refusal]
    await vi.advanceTimersByTimeAsync(20_000)
    expect(outbox.refused.map((item) => item.refused)).toEqual(['No. Yes.'])
    outbox.drop(outbox.refused[0]?.key ?? '')
    expect(outbox.items).toEqual([])
  })

  it('gives up on what breaks the server, and goes on to the next', async () => {
    const { outbox } = await page()
    server.answer = (asked) =>
      asked.path === '/api/bad' ? [500, { kind: 'broken', errors: [] }] : [200, {}]
    void outbox.send(parcel('bad'))
    void outbox.send(parcel('good'))
    await vi.advanceTimersByTimeAsync(120_000)
    expect(outbox.refused.map((item) => item.says)).toEqual(['bad'])
    expect(outbox.onTheirWay).toEqual([])
  })

  it('sends again under the key of what was taken back', async () => {
    const { outbox } = await page()
    await outbox.send({ ...parcel('job'), key: 'the-same-key' })
    expect(server.asked[0]?.key).toBe('the-same-key')
  })

  it('asks a person before it sends what the server may have forgotten', async () => {
    const { outbox } = await page()
    server.answer = () => null
    await outbox.send(parcel('old'))
    vi.setSystemTime(Date.now() + 14 * 86_400_000)
    await outbox.send(parcel('new'))
    server.asked = []
    server.answer = () => [200, {}]
    await vi.advanceTimersByTimeAsync(20_000)
    expect(server.asked.map((one) => one.path)).toEqual(['/api/new'])
    expect(outbox.refused.map((item) => item.refused)).toEqual([
      expect.stringContaining('may have arrived unseen'),
    ])
    outbox.retry(outbox.refused[0]?.key ?? '')
    await vi.advanceTimersByTimeAsync(20_000)
    expect([server.asked.at(-1)?.path, outbox.items]).toEqual(['/api/old', []])
  })

  it('tells a listener what arrives late, and the screen only if nobody listens', async () => {
    const { outbox } = await page()
    const heard: string[] = []
    const end = outbox.listen((item) => heard.push(item.says) > 0 && item.where === '/here')
    server.answer = () => null
    await outbox.send(parcel('late'))
    server.answer = () => [200, {}]
    await vi.advanceTimersByTimeAsync(5_000)
    expect([heard, outbox.delivered]).toEqual([['late'], null])
    end()
    server.answer = () => null
    await outbox.send(parcel('later'))
    server.answer = () => [200, {}]
    await vi.advanceTimersByTimeAsync(5_000)
    expect(outbox.delivered?.item.says).toBe('later')
  })

  it('is one persons: another on this device sees and sends nothing of it', async () => {
    const { outbox, owner } = await page()
    server.answer = () => null
    await outbox.send(parcel('mine'))
    owner.person = 4
    server.asked = []
    void outbox.start()
    await vi.advanceTimersByTimeAsync(30_000)
    expect([outbox.items, server.asked]).toEqual([[], []])
    owner.person = 3
    await outbox.start()
    expect(outbox.items.map((item) => item.says)).toEqual(['mine'])
  })

  it('sends what the device has no room to keep', async () => {
    const { outbox, device } = await page()
    full.is = true
    expect((await outbox.send(parcel('large'))).data).toEqual({ made: true })
    expect(device.full).toBe(false) // it was sent: nothing can be lost any more
  })
})

describe('a card', () => {
  it('goes on to the next step, unless another is looked at by now', async () => {
    await page()
    const { Card } = await import('../views/card/card.svelte')
    const route = ['cut', 'file', 'anneal', 'form'].map((key) => ({ key, title: key }))
    const job = { id: 7, title: 'band', plan: { route }, now: { route }, done: [] }
    const card = new Card(7)
    card.job = job as unknown as typeof card.job
    card.at = 'cut'
    server.answer = () => [200, job]
    await Promise.all([card.tick(true), card.tick(true)]) // a key pressed twice
    expect(card.at).toBe('file')
    const sent = card.tick(true)
    card.show('form')
    await sent
    expect(card.at).toBe('form')
    card.show('cut')
    const late = card.tick(true)
    card.show('anneal')
    card.show('cut') // turned back to on purpose while it was on its way
    await late
    expect(card.at).toBe('cut')
  })
})

describe('a draft', () => {
  /** A sheet of one field on a page of its own. */
  async function sheet() {
    const { Draft } = await page()
    const on = { text: '' }
    const draft = new Draft(
      'sheet',
      () => ({ ...on }),
      (typed) => Object.assign(on, typed),
    )
    return { on, draft }
  }
  /** Something typed on a sheet whose page is closed. */
  async function left(text: string) {
    const { on, draft } = await sheet()
    await draft.begin()
    on.text = text
    draft.keep()
  }

  it('is picked up after a reload, thrown away on purpose, gone when it was sent', async () => {
    await left('half a thought')
    const { on, draft } = await sheet()
    await draft.begin()
    expect([on.text, draft.since > 0]).toEqual(['half a thought', true])
    draft.drop()
    expect([on.text, draft.since]).toEqual(['', 0])
    on.text = 'another'
    draft.keep()
    draft.done()
    expect(Object.keys(localStorage).filter((name) => name.startsWith('draft'))).toEqual([])
  })

  it('never writes over what was typed before it was picked up', async () => {
    await left('kept')
    const { on, draft } = await sheet()
    const begun = draft.begin()
    on.text = '1.82'
    await begun
    expect([on.text, draft.others.length]).toEqual(['1.82', 1])
    draft.keep()
    draft.open(draft.others[0] ?? '')
    expect(on.text).toBe('kept')
  })

  it('leaves one of another shape alone', async () => {
    const { Draft, device } = await page()
    device.write('draft', 'sheet|old', { at: 1, tab: 'x', data: { text: 7 } })
    const taken = vi.fn()
    const draft = new Draft('sheet', () => ({ text: '' }), taken)
    await draft.begin()
    expect(taken).not.toHaveBeenCalled()
    expect(device.read('draft', 'sheet|old')).not.toBeNull()
  })
})

describe('what several people edit', () => {
  const stands = { name: 'Pym', note: 'plain' }
  const about = {
    sheet: 'thing',
    labels: { name: 'name', note: 'note' },
    stands,
    version: 1,
    theirs: (told: Record<string, unknown>) => told as typeof stands,
  }
  const conflict = {
    status: 409,
    errors: [],
    version: 2,
    theirs: { name: 'Pymander', note: 'nickel' },
    by: 'Linnet',
  } as unknown as Problem

  it('moves on to their version only once somebody has chosen, also over a reload', async () => {
    const before = await page()
    const first = new before.Editing(about)
    await first.draft.begin()
    first.said.note = 'mine'
    first.refused(conflict)
    expect(first.rows?.map((row) => [row.field, row.pick])).toEqual([
      ['name', 'theirs'],
      ['note', 'mine'],
    ])
    first.draft.keep()
    const after = await page()
    const editing = new after.Editing(about)
    await editing.draft.begin()
    expect([editing.said.note, editing.version]).toEqual(['mine', 1])
    editing.refused(conflict)
    editing.choose(editing.rows ?? [])
    expect([{ ...editing.said }, editing.version]).toEqual([{ name: 'Pymander', note: 'mine' }, 2])
  })

  it('keeps what is typed on while a save is under way', async () => {
    const { Editing } = await page()
    const editing = new Editing(about)
    await editing.draft.begin()
    editing.said.note = 'sent'
    const sent = editing.send()
    editing.said.note = 'sent and more'
    editing.saved(sent, 2)
    expect([editing.said.note, editing.version, editing.kept]).toEqual(['sent and more', 2, false])
    editing.send()
    editing.saved({ name: 'Pym', note: 'sent and more' }, 3)
    expect([editing.touched, editing.version, editing.kept]).toEqual([false, 3, true])
  })

  it('shows what stands now, but not over what is typed', async () => {
    const { Editing } = await page()
    const editing = new Editing(about)
    await editing.draft.begin()
    editing.stand({ name: 'Pym', note: 'new' }, 2)
    expect([editing.said.note, editing.version]).toEqual(['new', 2])
    editing.said.note = 'typed'
    editing.stand({ name: 'Pym', note: 'newer' }, 3)
    expect([editing.said.note, editing.version]).toEqual(['typed', 2])
  })
})
