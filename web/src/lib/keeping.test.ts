import { describe, expect, it } from 'vitest'

import { told } from '../views/card/history'
import { doneTimes, worded } from '../views/card/overlay'
import { labelsOf, type StyleSpec } from '../views/ring/order'
import { flat, labelOf, lay } from '../views/sheet/labels'
import type { Words } from '../views/sheet/order'
import type { Step } from './api/client'
import { dayWords, nth, whenWords } from './text'
import { besides, chosen } from './theirs'

describe('theirs beside mine', () => {
  const base = { note: 'plain', size: 'N', name: 'Pym' }
  const mine = { note: 'mine', size: 'N', name: 'Pym' }
  const theirs = { note: 'theirs', size: 'O', name: 'Pym' }
  const rows = besides(base, mine, theirs, { note: 'note', size: 'size' })
  it('shows what differs and nothing else', () =>
    expect(rows.map((row) => [row.field, row.mine, row.theirs])).toEqual([
      ['note', 'mine', 'theirs'],
      ['size', 'N', 'O'],
    ]))
  it('keeps what I touched and takes what only they touched, until somebody chooses', () =>
    expect(chosen(mine, rows)).toEqual({ note: 'mine', size: 'O', name: 'Pym' }))
  it('takes what was chosen', () =>
    expect(
      chosen(
        mine,
        rows.map((row) => ({ ...row, pick: 'theirs' as const })),
      ),
    ).toEqual(theirs))
  it('sees a field that one of the two does not have', () => {
    const [row] = besides({}, { a: '' }, { b: 'new' }, {})
    expect(row).toMatchObject({ field: 'b', mine: '', theirs: 'new', pick: 'theirs' })
  })
})

describe('a sheet as flat fields', () => {
  const part = { field: 'fit_mm', label: 'Fit' }
  const style = {
    key: 'stack',
    words: [{ field: 'outer', label: 'Outer bands', parts: [part] }],
  } as unknown as StyleSpec
  const words = {
    fields: { size: 'UK N', 'outer.1.fit_mm': '-0.05' },
    customer: 'Pym',
    title: 'band',
    ticket: '',
    note: '',
    day: '',
    hour: '17:00',
    gauge: 'kept',
  } as unknown as Words
  it('goes out and comes back', () => {
    const laid = lay(words, { ...flat(words), note: 'new', 'order.size': 'UK O', gauge: '' })
    expect(laid).toMatchObject({ note: 'new', gauge: '', hour: '17:00', customer: 'Pym' })
    expect(laid.fields).toEqual({ size: 'UK O', 'outer.1.fit_mm': '-0.05' })
  })
  it('says no hour where there is no day', () => expect(flat(words).hour).toBe(''))
  it('has a label for each word, for an entry of a list with its place, for nothing that is not shown', () => {
    const labels = labelsOf(style, { labels: { make: { size: 'finger size' } } })
    expect(labelOf('order.size', labels)).toBe('finger size')
    expect(labelOf('order.outer.1.fit_mm', labels)).toBe('Fit 2')
    expect(labelOf('order.costly_share', labels)).toBe('')
    expect(labelOf('note', labels)).toBe('note')
  })
})

describe('a card with something on its way', () => {
  const done = [{ key: 'cut', at: '2026-05-04T10:00:00Z', by: 'Wren', nth: 1 }]
  const tick = (key: string, isDone: boolean, job = 7) => ({
    path: `/api/jobs/${job}/steps/${key}`,
    body: { done: isDone },
    at: Date.UTC(2026, 4, 4, 11),
  })
  it('lays ticks over what the server has, in their order', () => {
    const times = doneTimes(done, [tick('form', true), tick('cut', false)], 7)
    expect([...times]).toEqual([['form', '2026-05-04T11:00:00.000Z']])
  })
  it('takes none of another job or of another kind', () => {
    const measure = { path: '/api/jobs/7/measures/cut', body: { text: '1' }, at: 0 }
    expect([...doneTimes(done, [tick('form', true, 70), measure], 7).keys()]).toEqual(['cut'])
  })
  it('keeps the steps of the kept plan in the words of the measured one', () => {
    const step = (key: string, title: string) => ({ key, title }) as Step
    const made = worded([step('cut', 'Cut 60'), step('old', 'Old')], [step('cut', 'Cut 61')])
    expect(made.map((one) => one.title)).toEqual(['Cut 61', 'Old'])
  })
})

describe('a line of a history', () => {
  const now = new Date(2026, 4, 5)
  const line = { says: 'done: Scribe 60.9', done_at: null, until: null, due: null }
  it('is what the server says', () => expect(told(line, now)).toBe('done: Scribe 60.9'))
  it('has its times by the clock of this device', () => {
    const then = new Date(2026, 4, 4, 9, 30).toISOString()
    expect(told({ ...line, done_at: then }, now)).toBe('done: Scribe 60.9, yesterday at 9:30')
    expect(told({ ...line, says: 'with the setter', until: '2026-12-01' }, now)).toBe(
      'with the setter, until 1 Dec',
    )
    const due = { before: null, after: new Date(2026, 10, 28, 16).toISOString() }
    expect(told({ ...line, says: 'customer: nothing → Pym', due }, now)).toBe(
      'customer: nothing → Pym; due: nothing → 28 Nov 16:00',
    )
    expect(told({ ...line, says: '', due }, now)).toBe('due: nothing → 28 Nov 16:00')
  })
})

describe('when', () => {
  const now = new Date(2026, 4, 4, 12, 0)
  it('is said as one says it', () => {
    expect(whenWords(new Date(2026, 4, 4, 9, 5), now)).toBe('at 9:05')
    expect(whenWords(new Date(2026, 4, 3, 23, 59), now)).toBe('yesterday at 23:59')
    expect(whenWords(new Date(2026, 3, 30, 8, 0), now)).toBe('on 30 Apr at 8:00')
    expect(dayWords('2026-12-01')).toBe('1 Dec')
    expect([2, 7].map(nth)).toEqual(['second', '7th'])
  })
})
