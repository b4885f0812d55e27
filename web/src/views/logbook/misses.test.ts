import { describe, expect, it } from 'vitest'

import { monthsOf, placesOf, reachOf, xsOf, yOf } from './misses'

const FRAME = { width: 500, height: 200, reach: 1 }
const miss = (at: string, z_mm: number) => ({ at, z_mm })

describe('the picture of misses', () => {
  it('holds what rings scatter, not the wildest of them', () => {
    const usual = Array.from({ length: 30 }, (_, i) => miss(`2031-03-${(i % 28) + 1}`, 0.2))
    expect(reachOf([...usual, miss('2031-04-01', 4.8)])).toBe(0.3)
    expect(reachOf(usual, [0.9])).toBe(0.3)
    expect(reachOf([])).toBe(0.3)
    expect([0.3, 0.75, 2].map((reach) => reach.toFixed(placesOf(reach)))).toEqual([
      '0.3',
      '0.75',
      '2.0',
    ])
    expect(reachOf([miss('2031-04-01', 40)])).toBe(10)
  })

  it('has large above, small below, and what is beyond it at its edge', () => {
    expect(yOf(0, FRAME)).toBe(100)
    expect(yOf(0.5, FRAME)).toBe(50)
    expect(yOf(-3, FRAME)).toBe(200)
  })

  it('lays them along their days', () => {
    const rings = [miss('2031-03-01', 0), miss('2031-03-11', 0), miss('2031-03-21', 0)]
    expect(xsOf(rings, FRAME)).toEqual([0, 250, 500])
    expect(xsOf(rings.slice(0, 1), FRAME)).toEqual([250])
  })

  it('names each month once, where there is room', () => {
    const rings = ['2031-01-05', '2031-01-20', '2031-02-01', '2031-06-01'].map((at) => miss(at, 0))
    expect(monthsOf(rings, FRAME).map((one) => one.text)).toEqual(['Jan', 'Feb', 'Jun'])
    expect(monthsOf(rings, { ...FRAME, width: 120 }).map((one) => one.text)).toEqual(['Jan', 'Jun'])
  })
})
