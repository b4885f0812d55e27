import { describe, expect, it } from 'vitest'

import type { BenchRing, Schemas } from '../api/client'
import { benchDrawing, benchRows } from './bench'
import { leftmost, needsWidth, pathData } from './paths'
import { commonScale, moved, ringPath, ruler, section, strip, taper } from './scale'

const blank = {
  name: 'band',
  cut_length_mm: 60.3,
  cut_text: '60.3',
  width_mm: 4,
  drawing: {
    shapes: [
      {
        key: 'blank',
        tone: 'metal',
        paths: [
          [
            [0, 0, 0],
            [60.3, 0, 0],
            [60.3, 4, 0],
            [0, 4, 0],
          ],
        ],
      },
    ],
    lines: [],
    labels: [],
    box: [0, 0, 60.3, 4],
  },
  marks: [{ key: 'cut', x_mm: 60.3, text: 'scribe 60.3' }],
  stretches: [
    { key: 'inside-circumference', from_mm: 0, to_mm: 55.7, off: false },
    { key: 'thickness', from_mm: 55.7, to_mm: 60.5, off: false },
    { key: 'leave', from_mm: 60.3, to_mm: 60.5, off: true },
  ],
} as unknown as Schemas['Blank']

const room = { width: 1208, x0: 10 }

describe('strip', () => {
  const drawn = strip(blank, room)
  it('draws each stretch at one scale, end to end', () => {
    const [inside, thickness] = drawn.spans
    expect(inside?.width).toBeCloseTo(55.7 * drawn.perMm)
    expect((inside?.x ?? 0) + (inside?.width ?? 0)).toBeCloseTo(thickness?.x ?? 0)
    expect(drawn.cutX).toBeCloseTo(10 + 60.3 * drawn.perMm)
    expect(drawn.height).toBeCloseTo(4 * drawn.perMm)
  })
  it('leaves room for the waste and ends with the screen', () => {
    expect(drawn.cutX).toBeLessThan(drawn.endX - 20)
    expect(drawn.ticks.at(-1)?.x).toBeLessThanOrEqual(1208 + 1e-6)
  })
  it('says when a wide strip is cut short', () =>
    expect([drawn.truncated, strip({ ...blank, width_mm: 12 }, room).truncated]).toEqual([
      false,
      true,
    ]))
  it('has a long tick at every ten', () =>
    expect(
      ruler(20, 1, 0)
        .filter((t) => t.kind === 'ten')
        .map((t) => t.says),
    ).toEqual(['0', '10', '20']))
  it('is in sixteenths with whole inches in an inch shop', () => {
    const ticks = ruler(51, 1, 0, 'in')
    expect(ticks.filter((t) => t.says).map((t) => [t.says, t.x])).toEqual([
      ['0', 0],
      ['1', 25.4],
      ['2', 50.8],
    ])
    expect(ticks.filter((t) => t.kind === 'five')).toHaveLength(6)
  })
})

describe('section and taper', () => {
  it('keeps true proportions and stands on the finger', () => {
    const shape = {
      width_mm: 4,
      thickness_mm: 2,
      neutral_mm: 0.85,
      outline: [
        [-2, 0],
        [2, 0],
        [0, 2],
      ],
    }
    const drawn = section(shape as Schemas['Section'], { width: 200, height: 90 })
    expect((drawn.right - drawn.left) / (drawn.baseY - 0)).toBeCloseTo(2)
    expect(drawn.baseY - drawn.neutralY).toBeCloseTo(0.85 * 45)
    expect(drawn.path.startsWith('M10.00 90.00L')).toBe(true)
  })
  it('grows with the diameter', () => {
    const drawn = taper([{ diameter_mm: 15 }, { diameter_mm: 20 }], 360, 80)
    expect(drawn.x(17.5)).toBeCloseTo(180)
    expect(drawn.half(20)).toBeGreaterThan(drawn.half(15))
  })
  it('opens a ring only where it is open', () => {
    expect(ringPath(0, 0, 8, 10, 0)).toContain('Z')
    expect(ringPath(0, 0, 8, 10, 16)).not.toEqual(ringPath(0, 0, 8, 10, 0))
  })
})

describe('bench', () => {
  const stations = ['measure', 'join', 'pickle', 'hand-over'].map((key) => ({ key, title: key }))
  const ring = (id: number, station: string, shape: string) =>
    ({
      id,
      title: 'band',
      customer_name: 'Pym',
      inside_mm: 18,
      thickness_mm: 2,
      cut_mm: 62,
      standing: { station, shape },
    }) as BenchRing
  const overlap = (rings: BenchRing[], width: number) => {
    const spans = benchDrawing(rings, stations, width)
      .placed.filter((p) => p.shape !== 'strip')
      .map((p) => [p.x - p.outer, p.x + p.outer] as const)
      .sort((a, b) => a[0] - b[0])
    return spans.some((span, i) => i > 0 && span[0] < (spans[i - 1]?.[1] ?? 0) - 1e-6)
  }
  it('stands everything at its station, to one scale, nothing over another', () => {
    const rings = [
      ring(1, 'measure', 'strip'),
      ring(2, 'join', 'open'),
      ring(3, 'join', 'open'),
      ring(4, 'pickle', 'closed'),
    ]
    const drawn = benchDrawing(rings, stations, 1208)
    expect(drawn.placed[0]?.length).toBeCloseTo(62 * drawn.perMm)
    expect(drawn.placed[1]?.inner).toBeCloseTo(9 * drawn.perMm)
    expect(overlap(rings, 1208)).toBe(false)
    expect(drawn.pot?.x).toBeCloseTo(drawn.stations[2]?.x ?? 0)
  })
  it('draws a crowd smaller rather than one over another', () => {
    const crowd = Array.from({ length: 30 }, (_, i) => ring(i, i % 2 ? 'join' : 'round', 'open'))
    expect(overlap(crowd, 1208)).toBe(false)
    expect(benchDrawing(crowd, stations, 1208).perMm).toBeLessThan(3)
  })
  it.each([
    ['measure', 'join', 'pickle'],
    ['measure', 'measure', 'measure'],
    ['join', 'join', 'join'],
  ])('stands two hundred within its width, without names, none over another: %s', (...keys) => {
    const shapes = keys[1] === 'measure' ? ['strip'] : ['strip', 'closed', 'closed']
    const many = Array.from({ length: 205 }, (_, i) =>
      ring(i, keys[i % 3] ?? '', shapes[i % shapes.length] ?? ''),
    )
    const away = ['setter', 'plater', 'ready']
    const whole = 'measure cut anneal form join pickle round finish hand-over'.split(' ')
    const all = [...whole, ...away].map((key) => ({ key, title: key }))
    const drawn = benchDrawing(many, all, 1208)
    expect(drawn.placed).toHaveLength(205)
    expect(drawn.width).toBeCloseTo(1208)
    expect(drawn.placed.some((p) => p.named)).toBe(false)
    const boxes = drawn.placed.map((p) => [p.x - p.length / 2, p.y, p.length, p.high] as const)
    for (const [i, [x, y, wide, high]] of boxes.entries()) {
      expect(x).toBeGreaterThanOrEqual(0)
      expect(x + wide).toBeLessThanOrEqual(1208 + 1e-6)
      for (const [ox, oy, oWide, oHigh] of boxes.slice(i + 1)) {
        const beside = x + wide <= ox + 1e-6 || ox + oWide <= x + 1e-6
        expect(beside || y + high <= oy + 1e-6 || oy + oHigh <= y + 1e-6).toBe(true)
      }
    }
  })
  it.each([360, 390, 768, 820])('is folded into rows at one scale where it is %i wide', (width) => {
    const keys = ['measure', 'form', 'join', 'pickle', 'round', 'hand-over']
    const some = Array.from({ length: 12 }, (_, i) =>
      ring(i, keys[i % 6] ?? '', i % 6 < 2 ? 'strip' : 'closed'),
    )
    const all = 'measure cut anneal form join pickle round finish hand-over'.split(' ')
    const named = all.map((key) => ({ key, title: key }))
    const rows = benchRows(some, named, width)
    expect(rows.flatMap((row) => row.placed)).toHaveLength(12)
    expect(rows.flatMap((row) => row.stations.map((one) => one.key))).toEqual(keys)
    expect(new Set(rows.map((row) => row.perMm.toFixed(6))).size).toBe(1)
    for (const row of rows)
      for (const { x, length } of row.placed) {
        expect(x - length / 2).toBeGreaterThanOrEqual(0)
        expect(x + length / 2).toBeLessThanOrEqual(width + 1e-6)
      }
    expect(benchRows(some, named, 1208)).toHaveLength(1)
  })
  it('stands a ring that is elsewhere there, whatever its next step', () => {
    const away = { ...ring(1, 'join', 'open'), place: 'setter' } as BenchRing
    const drawn = benchDrawing([away], [...stations, { key: 'setter', title: 'setter' }], 1208)
    expect(drawn.placed[0]?.x).toBeCloseTo(drawn.stations[4]?.x ?? 0)
  })
  it('keeps names from running into one another where they do not fit inside', () => {
    const named = Array.from({ length: 20 }, (_, i) => ({
      ...ring(i, 'join', 'open'),
      customer_name: 'A Name Of Some Length',
    })) as BenchRing[]
    const xs = benchDrawing(named, stations, 1208).placed.map((p) => p.x)
    const gaps = xs.slice(1).map((x, i) => x - (xs[i] ?? 0))
    expect(Math.min(...gaps)).toBeGreaterThan(21 * 7.6)
  })
})

describe('paths', () => {
  const circle = [
    [-2, 0, 1],
    [2, 0, 1],
  ]
  it('draws a half turn as an arc of the right radius and turn', () =>
    expect(pathData(circle, true)).toBe(
      'M-2.0000 0.0000A2.0000 2.0000 0 0 0 2.0000 0.0000A2.0000 2.0000 0 0 0 -2.0000 0.0000Z',
    ))
  it('turns the other way for a negative bulge, and draws straight without one', () =>
    expect(
      pathData(
        [
          [0, 0, -0.5],
          [4, 0, 0],
          [4, 3, 0],
        ],
        false,
      ),
    ).toBe('M0.0000 0.0000A2.5000 2.5000 0 0 1 4.0000 0.0000L4.0000 -3.0000'))
  it('knows where a drawing begins and whether its width matters', () => {
    const drawn = blank.drawing
    const ghost = { key: 'g', tone: 'ghost', paths: [[[-1.2, 0, 0]]] }
    expect(leftmost({ ...drawn, shapes: [...drawn.shapes, ghost] })).toBe(-1.2)
    expect(needsWidth(drawn)).toBe(false)
    const fold = {
      key: 'f',
      kind: 'fold',
      path: [
        [0, 2, 0],
        [60, 2, 0],
      ],
    }
    expect(needsWidth({ ...drawn, lines: [fold] })).toBe(true)
  })
  it('gives several blanks one scale, and a wide one a smaller', () => {
    const long = { ...blank, cut_length_mm: 120 }
    expect(commonScale([blank, long], room)).toBeLessThan(commonScale([blank], room))
    const label = { text: 'A', x_mm: 3, y_mm: 1, height_mm: 2 }
    const wide = { ...blank, width_mm: 20, drawing: { ...blank.drawing, labels: [label] } }
    expect(commonScale([wide], room)).toBeCloseTo(104 / 20)
  })
})

describe('a mark that is moved', () => {
  const handle = {
    field: 'gap_mm',
    label: 'gap',
    value: 6,
    per_mm: -1,
    low: 0,
    high: 20,
    step: 0.1,
  }
  it.each([
    [2, 4],
    [-1.234, 7.23],
    [9, 0],
    [-99, 20],
  ])('by %f mm makes it %f, within its ends', (byMm, value) =>
    expect(moved(handle, byMm)).toBe(value),
  )
})
