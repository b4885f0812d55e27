import { describe, expect, it } from 'vitest'

import { FRESH, pieceOf, wordsOf } from './piece'

const KINDS = [
  { key: 'wire', title: 'wire', counted: 'length' },
  { key: 'sheet', title: 'sheet', counted: 'sheet' },
  { key: 'scrap', title: 'scrap', counted: 'mass' },
]

describe('a piece as it is sent', () => {
  it('has the measures of its kind and no others', () => {
    const typed = { ...FRESH, thickness_mm: '1.7', width_mm: '3', length_mm: '210', mass_g: ' ' }
    expect(pieceOf(typed, KINDS, ['width_mm'], 'mm')).toEqual({
      kind: 'wire',
      metal: 'sterling',
      profile: 'half-round',
      thickness_mm: '1.7',
      width_mm: '3',
      length_mm: '210',
      poured: false,
      units: 'mm',
    })
    expect(pieceOf({ ...typed, profile: 'round' }, KINDS, [], 'in')).not.toHaveProperty('width_mm')
    expect(pieceOf({ ...typed, kind: 'sheet' }, KINDS, [], 'mm')).not.toHaveProperty('profile')
  })
  it('of scrap is its mass and its state', () => {
    const typed = { ...FRESH, kind: 'scrap', mass_g: '12', state: 'solder', thickness_mm: '4' }
    expect(pieceOf(typed, KINDS, [], 'mm')).toEqual({
      kind: 'scrap',
      metal: 'sterling',
      mass_g: '12',
      state: 'solder',
      units: 'mm',
    })
  })
  it('binds to a job by its number, and leaves open what nobody said', () => {
    expect(wordsOf({ ...FRESH, job_id: '7', price: '' })).toMatchObject({ job_id: 7, price: null })
    expect(wordsOf(FRESH).job_id).toBeNull()
  })
})
