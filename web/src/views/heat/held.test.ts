import { expect, test } from 'vitest'

import { BOTH, fresh, place, rolled, stretch, toRequest } from './held'

const known = {
  heat: {
    water_share: 0.4,
    flow_c: 780,
    stone: 'emerald',
    seams: [
      { key: 'first', title: 'the first seam', at_mm: -3.14 },
      { key: 'old', title: 'old', at_mm: 20 },
    ],
  },
  apart_mm: 3.14,
}
const typed = (mm: number) => String(mm)

test('what is known fills the words', () => {
  const words = fresh(known, typed)
  expect(words.water_share).toBe('0.4')
  expect(words['seams.0.at_mm']).toBe('-3.1')
  expect(words.stone).toBe('emerald')
})

test('one seam alone, or both in one heat', () => {
  const words = fresh(known, typed)
  const alone = toRequest(known, words, 'mm')
  expect(alone.insert_mm).toBe(0)
  expect(alone.seams).toHaveLength(2)
  const both = toRequest(known, { ...words, insert: BOTH }, 'mm')
  expect(both.insert_mm).toBe(3.14)
})

test('what is left empty is dry, and no tweezers; a flow that is missing is asked for', () => {
  const words = { ...fresh(known, typed), water_share: ' ', flow_c: '' }
  const request = toRequest(known, words, 'mm') as unknown as Record<string, unknown>
  expect(request.water_share).toBeNull()
  expect(request.tweezers_mm).toBeNull()
  expect(request.flow_c).toBe('')
})

test('the roll moves by whole degrees and no further than half a turn', () => {
  expect(rolled('12', -1)).toBe('11')
  expect(rolled('', 10)).toBe('10')
  expect(rolled('179', 10)).toBe('180')
  expect(rolled('-3.4°', 0)).toBe('-3')
})

test('places turn clockwise from above', () => {
  expect(place(10, 0)).toEqual({ x: 0, y: -10 })
  expect(place(10, 90).x).toBe(10)
  expect(stretch(8, 10, 0, 360).match(/M/g)).toHaveLength(2)
  expect(stretch(8, 10, 0, 270)).toContain('0 1 1')
})
