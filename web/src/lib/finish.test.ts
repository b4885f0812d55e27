import { describe, expect, it } from 'vitest'

import type { Schemas } from './api/client'
import { columnsOf, isUnlike, waitsFor } from './finish'

type Step = Schemas['Step']

const step = (key: string, title: string, ...does: object[]) =>
  ({ key, title, does }) as unknown as Step
const on = (face: string, what: string) => ({ op: 'finish', piece: 'band', face, with: what })

describe('the grid of a finish', () => {
  const route = [
    step('cut', 'Cut it', { op: 'cut' }),
    step('finish-320-paper', '320 paper', on('inside', '320 paper'), on('edges', '320 paper')),
    step('finish-satin-brush', 'Satin brush', on('outside', 'satin brush')),
    step('patina', 'Darken it', { op: 'patina', piece: 'band' }),
  ]

  it('has a column for each grit, with its faces, and one for what follows the wash', () => {
    expect(columnsOf(route)).toEqual([
      { step: 'finish-320-paper', title: '320', faces: ['inside', 'edges'] },
      { step: 'finish-satin-brush', title: 'satin brush', faces: ['outside'] },
      { step: 'patina', title: 'patina', faces: ['inside', 'edges', 'outside'] },
    ])
  })

  it('leaves out of a bath what is stopped off', () => {
    const plate = { op: 'plate', piece: 'band', spares: ['inside', 'edges'] }
    expect(columnsOf([step('plate', 'Plate it', plate)])).toEqual([
      { step: 'plate', title: 'plate', faces: ['outside'] },
    ])
  })

  it('says more than a list only where the faces are worked unlike', () => {
    expect(isUnlike(columnsOf(route))).toBe(true)
    const alike = [
      step(
        'finish-320-paper',
        '320 paper',
        on('inside', 'a'),
        on('edges', 'a'),
        on('outside', 'a'),
      ),
    ]
    expect(isUnlike(columnsOf(alike))).toBe(false)
    expect(columnsOf([])).toEqual([])
  })

  it('lets a grit wait for the one before it on the same faces', () => {
    const columns = columnsOf([
      ...route.slice(0, 2),
      step('finish-600-paper', '600 paper', on('inside', '600 paper')),
    ])
    expect(waitsFor(columns, 'finish-600-paper', new Set())).toBe('320')
    expect(waitsFor(columns, 'finish-600-paper', new Set(['finish-320-paper']))).toBe('')
    expect(waitsFor(columnsOf(route), 'finish-satin-brush', new Set())).toBe('')
    expect(waitsFor(columns, 'cut', new Set())).toBe('')
  })
})
