import { beforeAll, describe, expect, it } from 'vitest'

import { dayFrom, dayText, readDay, readHour } from './day'
import { fetchWords } from './day-words.svelte'

const NOW = new Date(2026, 10, 26, 10, 0) // a Thursday

it('reads a date in full before what reads words is here, and no other', () => {
  expect(readDay('28 Nov 2026', NOW)).toBe('2026-11-28')
  expect(readDay('1 feb 2027', NOW)).toBe('2027-02-01')
  for (const none of ['31 Feb 2027', '0 Mar 2027', '4 Mär 2027', ''])
    expect(readDay(none, NOW)).toBeNull()
})

beforeAll(fetchWords)

it.each([
  ['fri', '2026-11-27'],
  ['thu', '2026-11-26'],
  ['next wed', '2026-12-02'],
  ['28 nov', '2026-11-28'],
  ['nov 28', '2026-11-28'],
  ['5 jan', '2027-01-05'],
  ['28 Nov 2026', '2026-11-28'],
  ['in 3 days', '2026-11-29'],
  ['in two weeks', '2026-12-10'],
  ['tomorrow', '2026-11-27'],
  ['today', '2026-11-26'],
  ['5/12', '2026-12-05'],
  ['5.12.2026', '2026-12-05'],
  ['2026-12-24', '2026-12-24'],
])('reads %s as a jeweler means it', (text, day) => expect(readDay(text, NOW)).toBe(day))

it.each(['', 'soon', 'half round', '31 feb', 'friday the ring', '2026-13-40', '💍'])(
  'takes %s for no day',
  (text) => expect(readDay(text, NOW)).toBeNull(),
)

it('stands in a field so that it reads the same on any other day', () => {
  for (const day of ['2026-11-28', '2027-01-05', '2025-02-01']) {
    expect(readDay(dayText(day), NOW)).toBe(day)
    expect(readDay(dayText(day), new Date(2027, 5, 1))).toBe(day)
  }
})

it.each([
  ['2026-11-26', 'Thu 26 Nov, today'],
  ['2026-11-27', 'Fri 27 Nov, tomorrow'],
  ['2026-11-29', 'Sun 29 Nov, in 3 days'],
  ['2026-11-20', 'Fri 20 Nov, 6 days ago'],
  ['2027-01-05', 'Tue 5 Jan 2027, in 40 days'],
])('says how far %s is', (day, said) => expect(dayFrom(day, NOW)).toBe(said))

describe('an hour', () => {
  it.each([
    ['16:30', '16:30'],
    ['16.30', '16:30'],
    ['1630', '16:30'],
    ['9', '09:00'],
    [' 4 pm ', '16:00'],
    ['4:15 p.m.', '16:15'],
    ['12 am', '00:00'],
    ['12pm', '12:00'],
    ['noon', '12:00'],
    ['17h', '17:00'],
  ])('is read as one writes it: %s', (text, hour) => expect(readHour(text)).toBe(hour))
  it.each(['', '24', '25:00', '16:60', '13 pm', '0 am', 'late', '4 4', '-3'])(
    'is none where it means none: %s',
    (text) => expect(readHour(text)).toBeNull(),
  )
})
