import { describe, expect, it } from 'vitest'

import type { Schemas } from '$lib/api/client'
import { MELT, bookBody, meltBody, mouldsOf } from './melt'

const item = (id: number, more: object) =>
  ({ id, metal: 'sterling', state: 'clean', owner: '', ...more }) as unknown as Schemas['ItemOut']

describe('a melt as it is asked', () => {
  it('reads moulds as they are typed', () => {
    expect(mouldsOf('6 x 5×40; 4 4 30')).toEqual([
      { width_mm: '6', depth_mm: '5', length_mm: '40' },
      { width_mm: '4', depth_mm: '4', length_mm: '30' },
    ])
    expect(mouldsOf(' ; ')).toEqual([])
  })
  it('takes only what was chosen, whose metal the first is', () => {
    const items = [item(1, {}), item(2, { owner: 'Orla Quist' }), item(3, { state: 'filings' })]
    const body = meltBody(MELT, false, items, { 2: '8', 3: '1.5' }, [], 'mm')
    expect(body.owner).toBe('Orla Quist')
    expect(body.have.map((one) => [one.mass_g, one.state])).toEqual([
      ['8', 'clean'],
      ['1.5', 'filings'],
    ])
    expect(body.blanks[0]?.stock).toEqual({
      profile: 'square',
      thickness_mm: '5.5',
      width_mm: null,
    })
  })
  it('is booked with what was weighed in where finenesses differ', () => {
    const items = [item(1, {}), item(2, { metal: 'fine-silver' })]
    const typed = { ...MELT, out: '11.2', added: '0.4' }
    expect(bookBody(typed, false, items, { 1: '12' }, 'mm').added_g).toBeNull()
    expect(bookBody(typed, false, items, { 1: '12', 2: '3' }, 'mm')).toMatchObject({
      added_g: '0.4',
      into: [
        { item_id: 1, mass_g: '12' },
        { item_id: 2, mass_g: '3' },
      ],
      poured: [{ mass_g: '11.2', kind: 'bar', profile: 'square', thickness_mm: '5.5' }],
    })
  })
  it('comes out of its moulds as they are, and what ran over is scrap', () => {
    const typed = { ...MELT, moulds: '6 6 40; 5 4 30', out: '9; 4.5', over: '0.8' }
    expect(bookBody(typed, false, [item(1, {})], { 1: '15' }, 'mm').poured).toEqual([
      {
        metal: 'sterling',
        units: 'mm',
        kind: 'bar',
        profile: 'square',
        thickness_mm: '6',
        width_mm: null,
        mass_g: '9',
        poured: true,
      },
      {
        metal: 'sterling',
        units: 'mm',
        kind: 'bar',
        profile: 'rectangle',
        thickness_mm: '4',
        width_mm: '5',
        mass_g: '4.5',
        poured: true,
      },
      { metal: 'sterling', units: 'mm', kind: 'scrap', mass_g: '0.8' },
    ])
  })
})
