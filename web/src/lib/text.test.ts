import { describe, expect, it } from 'vitest'

import {
  asTyped,
  countdown,
  dueWords,
  fromField,
  minutes,
  pieces,
  toField,
  unitBehind,
} from './text'

const shown = (text: string, strong = '') =>
  pieces(text, strong).map((piece) => `${piece.kind[0]}:${piece.text}`)

describe('pieces', () => {
  it.each([
    ['US 7 1/2.', ['p:US 7', 'f:1/2', 'p:.']],
    ['3/8 US size large', ['f:3/8', 'p: US size large']],
    ['one pass of 4/0, 0.22 each', ['p:one pass of 4/0, 0.22 each']],
    ['between US 7 1/4 and US 7 3/8', ['p:between US 7', 'f:1/4', 'p: and US 7', 'f:3/8']],
    ['', []],
  ])('%s', (text, wanted) => expect(shown(text)).toEqual(wanted))

  it('keeps the strong part whole', () =>
    expect(shown('closes at US 7 3/8.', 'US 7 3/8')).toEqual(['p:closes at ', 's:US 7 3/8', 'p:.']))
})

describe('figures', () => {
  it('tells minutes short', () =>
    expect([5, 59.6, 61, 120].map(minutes)).toEqual(['5 min', '1 h', '1 h 01', '2 h']))
  it('counts down and stops at nought', () => {
    const now = new Date(2026, 4, 4, 12, 0, 0)
    const later = (s: number) => new Date(now.getTime() + s * 1000)
    expect([380, 0, -5, 3725].map((s) => countdown(later(s), now))).toEqual([
      '6:20',
      '0:00',
      '0:00',
      '1:02:05',
    ])
  })
})

describe('a reading and the unit behind its field', () => {
  it.each([
    ['2.4 in', 'in', '2.4', 'in'],
    ['2.4 in', 'mm', '2.4 in', ''],
    ['16 ga', 'mm', '16 ga', ''],
    ['1/16″', 'in', '1/16″', ''],
    ['61,2', 'mm', '61,2', 'mm'],
  ])('%s for a caliper in %s', (text, units, typed, behind) => {
    expect(asTyped(text, units)).toBe(typed)
    expect(unitBehind(typed, units)).toBe(behind)
  })
})

describe('dates', () => {
  const now = new Date(2026, 4, 4, 12, 0)
  it.each([
    [new Date(2026, 4, 4, 16, 0), 'today 16:00'],
    [new Date(2026, 4, 5, 9, 5), 'tomorrow 9:05'],
    [new Date(2026, 4, 3, 9, 0), 'yesterday'],
    [new Date(2026, 4, 7, 9, 0), 'Thu'],
    [new Date(2026, 5, 7, 9, 0), '7 Jun'],
  ])('%s', (due, words) => expect(dueWords(due.toISOString(), now)).toBe(words))
  it('has no date where there is none', () => expect(dueWords(null, now)).toBe('no date'))
  it('goes to a field and back', () => {
    const due = new Date(2026, 4, 7, 9, 30).toISOString()
    expect(fromField(toField(due))).toBe(due)
    expect([fromField(''), fromField('soon')]).toEqual([null, null])
  })
})
