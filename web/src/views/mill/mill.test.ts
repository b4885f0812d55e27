import { describe, expect, it } from 'vitest'

import { MILL, THIN, fieldOf, millBody, thinBody } from './mill'

const needs = (profile: string) => (profile === 'square' ? [] : ['width_mm'])

describe('the mill as it is asked', () => {
  it('leaves out what was not typed', () => {
    const body = millBody({ ...MILL, from_width: '9', from_long: ' ' }, needs, 'mm')
    expect(body.start).toEqual({
      profile: 'square',
      thickness_mm: '6.5',
      width_mm: null,
      length_mm: null,
    })
    expect(body.anneal_at).toBeNull()
    expect(body.now).toBeNull()
    expect(millBody({ ...MILL, now: '4.1' }, needs, 'mm').now).toMatchObject({
      thickness_mm: '4.1',
    })
    expect(millBody({ ...MILL, to: 'sheet', to_width: '5' }, needs, 'in').target.width_mm).toBe('5')
  })
  it('asks of the ends where the middle stays', () => {
    const body = thinBody({ ...THIN, form: 'thick-middle' }, 'sterling', 'no', 'mm')
    expect(body).toMatchObject({ ends: { width_mm: '4.5', thickness_mm: '1.7' }, middle_mm: '12' })
    expect(body).not.toHaveProperty('middle')
  })
  it('is live once a length is typed', () => {
    expect(thinBody(THIN, 'sterling', 'no', 'mm').now).toBeNull()
    expect(
      thinBody({ ...THIN, now_long: '44', now_width: '4.6' }, 'sterling', 'yes', 'mm'),
    ).toMatchObject({ now: { length_mm: '44', width_mm: '4.6', thickness_mm: null }, poured: true })
  })
  it('finds its own field again', () => {
    expect(fieldOf('ends.thickness_mm')).toBe('middle_thick')
    expect(fieldOf('metal')).toBe('metal')
    expect([fieldOf('now.thickness_mm'), fieldOf('now.thickness_mm', false)]).toEqual([
      'now_thick',
      'now',
    ])
  })
})
