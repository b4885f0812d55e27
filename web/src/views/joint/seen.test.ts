import { expect, test } from 'vitest'

import { asKept, fresh, toSeen } from './seen'

const VIEWS = ['side', 'top', 'under']

test('a joint begins closed, sawn as often as planned', () => {
  const words = fresh(VIEWS, 2, '0.1')
  expect(words['views.under']).toBe('none')
  expect(words.passes_made).toBe('2')
  expect(words.filed_mm).toBe('0.1')
  expect(asKept(words, null)).toEqual(words)
})

test('what was kept lies over it, and nothing else', () => {
  const words = asKept(fresh(VIEWS, 1), { 'views.side': 'parallel', gap_mm: '0.2', units: 'mm' })
  expect(words['views.side']).toBe('parallel')
  expect(words.gap_mm).toBe('0.2')
  expect(words['views.top']).toBe('none')
  expect('units' in words).toBe(false)
})

test('what was typed becomes a request: lists, a yes, no chip where none was said', () => {
  const words = {
    ...fresh(VIEWS, 1),
    tried: 'bend / file',
    own_spring: 'no',
    gap_mm: ' ',
    step_mm: '0.1',
  }
  const seen = toSeen(words, 'in') as unknown as Record<string, unknown>
  expect(seen.tried).toEqual(['bend', 'file'])
  expect(seen.own_spring).toBe(false)
  expect(seen.gap_mm).toBe(0)
  expect(seen.step_mm).toBe('0.1')
  expect(seen.units).toBe('in')
  expect(seen.views).toEqual({ side: 'none', top: 'none', under: 'none' })
  expect('chip' in seen).toBe(false)
  expect(toSeen({ ...words, 'chip.length_mm': '2' }, 'mm').chip).toEqual({ length_mm: '2' })
})
