import { describe, expect, it } from 'vitest'

import type { Schemas } from '$lib/api/client'
import { bars, countWords, drawnMm, sheets } from './bars'

const made = {
  lines: [
    { id: '4', called: 'coil', stays: '3000.0 stays' },
    { id: '5', called: 'offcut 5', stays: '9.0 stays' },
  ],
  marks: { '4': ['60.0', '120.2'], '5': ['55.0'] },
  plan: {
    pieces: [
      {
        stock_id: '4',
        length_mm: 3120,
        cuts: ['1:a', '2:a'],
        lengths_mm: [60, 60],
        marks_mm: [60, 120.2],
      },
      { stock_id: '5', length_mm: 64, cuts: ['3:a'], lengths_mm: [55], marks_mm: [55] },
    ],
    strips: [],
  },
} as unknown as Schemas['ProposedOut']

describe('the bars of a plan', () => {
  it('share one scale, the longest drawn fills the room', () => {
    const [coil, offcut] = bars(made, 1000)
    expect(coil?.endX).toBeCloseTo(1000)
    const perMm = 1000 / drawnMm(3120, 120.2)
    expect(offcut?.endX).toBeCloseTo(64 * perMm)
    expect(coil?.blanks[1]?.markX).toBeCloseTo(120.2 * perMm)
    expect(coil?.blanks[1]?.width).toBeCloseTo(60 * perMm)
    expect(coil?.torn).toBe(true)
    expect(offcut?.torn).toBe(false)
    expect(offcut?.rest).toBe('9.0 stays')
  })
  it('leave a gap of the kerf between two blanks', () => {
    const [coil] = bars(made, 1000)
    const gap = (coil?.blanks[1]?.x ?? 0) - (coil?.blanks[0]?.markX ?? 0)
    expect(gap / (1000 / drawnMm(3120, 120.2))).toBeCloseTo(0.2)
  })
  it('are counted in words', () => {
    expect([countWords(1, 'blank'), countWords(5, 'piece'), countWords(14, 'piece')]).toEqual([
      'one blank',
      'five pieces',
      '14 pieces',
    ])
  })
})

describe('the sheets of a plan', () => {
  it('lie in their proportions, with the strips of their own numbered in the order of their cuts', () => {
    const place = { id: '1:a', x_mm: 0, y_mm: 0, long_mm: 60, wide_mm: 6 }
    const strip = { sheet_id: '7', cuts: ['1:a'], places: [place] }
    const other = { sheet_id: '8', cuts: ['2:a'], places: [{ ...place, id: '2:a', x_mm: 30 }] }
    const cut = {
      sheets: [{ id: '8', called: 'sheet 8', stays: 'nothing stays', long_mm: 120, wide_mm: 30 }],
      told: { '8/1': 'along, 6.00 wide' },
      marks: { '8/1': ['60.0'] },
      plan: {
        strips: [strip, other],
        rests: [{ sheet_id: '8', x_mm: 0, y_mm: 6, long_mm: 120, wide_mm: 24 }],
      },
    } as unknown as Schemas['ProposedOut']
    const [drawn] = sheets(cut, 600)
    expect([drawn?.across, drawn?.high]).toEqual([600, 150])
    expect(drawn?.places).toEqual([{ key: '2:a', nth: 1, x: 150, y: 0, width: 300, height: 30 }])
    expect(drawn?.rests).toEqual([{ x: 0, y: 30, width: 600, height: 120 }])
    expect(drawn?.strips).toEqual([
      { nth: 1, told: 'along, 6.00 wide', marks: ['60.0'], cuts: ['2:a'] },
    ])
  })
})
