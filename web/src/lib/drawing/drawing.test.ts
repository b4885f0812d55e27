import { describe, expect, it } from 'vitest'

import type { BenchRing, Schemas } from '../api/client'
import { benchRows, shortName } from './bench'
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
  it.each([0, 5, 30])('is drawn the right way round where its part is only %i wide', (width) => {
    const narrow = strip(blank, { ...room, width })
    expect(narrow.perMm).toBeGreaterThan(0)
    expect(narrow.cutX).toBeGreaterThan(narrow.x0)
    expect(narrow.endX).toBeGreaterThanOrEqual(narrow.x0)
  })
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
  const bench = 'measure cut anneal form join pickle round finish hand-over'.split(' ')
  const stations = [...bench, 'setter', 'plater', 'ready'].map((key) => ({ key, title: key }))
  const names = [
    'Pym',
    'Verity Holm',
    'Quill',
    'Arden',
    'Sarr',
    'Teague',
    'A Name Of Some Length And More',
  ]
  const ring = (id: number, station: string, shape: string) =>
    ({
      id,
      title: 'band',
      customer_name: names[id % names.length],
      inside_mm: 15 + (id % 7),
      thickness_mm: 1.2 + (id % 3) * 0.4,
      cut_mm: 50 + (id % 7) * 3,
      standing: { station, shape },
    }) as BenchRing
  /** Jobs as a shop has them: strips at measure and cut, the rest all along the bench. */
  const shop = (count: number) =>
    Array.from({ length: count }, (_, i) => {
      const station = stations[(i * 5) % stations.length]?.key ?? ''
      return ring(i, station, ['measure', 'cut', 'anneal'].includes(station) ? 'strip' : 'closed')
    })
  type Box = [number, number, number, number]
  const apart = ([x, y, w, h]: Box, [ox, oy, ow, oh]: Box) =>
    x + w <= ox + 1e-6 || ox + ow <= x + 1e-6 || y + h <= oy + 1e-6 || oy + oh <= y + 1e-6
  /** What each thing and each name covers, a letter taken as 7.2 px wide and 15 high. */
  const boxes = (row: ReturnType<typeof benchRows>[number]): Box[][] =>
    row.placed.map((p) => {
      const letters = shortName(p.ring).length * 7.2
      const own: Box = [p.x - p.length / 2, p.y, p.length, p.high]
      if (p.name === 'beside')
        return [own, [p.x + p.length / 2 + 8, p.y + p.high / 2 - 8, letters, 15]]
      if (p.name === 'over') return [own, [p.x - letters / 2, p.y + p.high + 4, letters, 15]]
      return [own]
    })
  /** Everything at one station, strips and rings together: the morning after a fair. */
  const monday = (count: number) =>
    Array.from({ length: count }, (_, i) => ring(i, 'measure', i % 3 ? 'strip' : 'closed'))
  /** Names so short that the rings themselves are what takes the room. */
  const terse = (count: number) =>
    Array.from({ length: count }, (_, i) => ({
      ...ring(i, stations[i % 9]?.key ?? '', 'closed'),
      customer_name: 'Å',
    })) as BenchRing[]
  const cases = [12, 22, 40, 200].flatMap((count) =>
    [360, 390, 820, 1204, 1844].flatMap((width) => [
      [count, width, 'along the bench', shop(count)] as const,
      [count, width, 'at one station', monday(count)] as const,
      [count, width, 'under short names', terse(count)] as const,
    ]),
  )
  it.each(cases)(
    'draws %i jobs at %i px, %s: all of them, large enough, nothing over another, none beyond the edge',
    (count, width, _, jobs) => {
      const rows = benchRows(jobs, stations, width)
      expect(rows.flatMap((row) => row.placed).length).toBe(count)
      expect(new Set(rows.map((row) => row.perMm.toFixed(6))).size).toBe(1)
      for (const row of rows) {
        expect(row.width).toBeLessThanOrEqual(width + 1e-6)
        for (const one of row.placed)
          if (one.shape !== 'strip') expect(one.length).toBeGreaterThanOrEqual(28 - 1e-6)
        const all = boxes(row)
        if (row.pot) {
          const [left, right] = [row.pot.x - row.pot.width / 2, row.pot.x + row.pot.width / 2]
          expect(left - 14).toBeGreaterThanOrEqual(-1e-6)
          expect(right + 14).toBeLessThanOrEqual(width + 1e-6)
          for (const [i, one] of row.placed.entries())
            for (const [x, , wide] of one.ring.standing.station === 'pickle'
              ? (all[i] ?? [])
              : []) {
              expect(x).toBeGreaterThanOrEqual(left)
              expect(x + wide).toBeLessThanOrEqual(right)
            }
        }
        for (const [i, mine] of all.entries())
          for (const [x, , wide] of mine) {
            expect(x).toBeGreaterThanOrEqual(-1e-6)
            expect(x + wide).toBeLessThanOrEqual(width + 1e-6)
            for (const others of all.slice(i + 1))
              expect(mine.every((box) => others.every((other) => apart(box, other)))).toBe(true)
          }
      }
      expect(rows.some((row) => row.placed.some((p) => p.name))).toBe(count <= 40)
    },
  )
  it('takes another line before a small ring is drawn too small', () => {
    const knuckle = terse(34).map((one) => ({ ...one, inside_mm: 9, thickness_mm: 1.2 }))
    const rows = benchRows(knuckle, stations.slice(0, 9), 1204)
    for (const one of rows.flatMap((row) => row.placed))
      expect(one.length).toBeGreaterThanOrEqual(28 - 1e-6)
  })
  it('stands on one line where its rings can be large, else on two rather than small', () => {
    const few = ['measure', 'join', 'join', 'finish'].map((key, i) => ring(i, key, 'closed'))
    expect(benchRows(few, stations.slice(0, 9), 1204)).toHaveLength(1)
    const rows = benchRows(shop(22), stations, 1204)
    expect(rows).toHaveLength(2)
    expect(rows.flatMap((row) => row.stations.map((one) => one.key))).toEqual(
      stations.map((one) => one.key),
    )
  })
  it('leaves out stations where nothing stands on a narrow screen, and keeps their order', () => {
    const keys = ['measure', 'form', 'join', 'pickle', 'round', 'hand-over']
    const some = Array.from({ length: 12 }, (_, i) =>
      ring(i, keys[i % 6] ?? '', i % 6 < 2 ? 'strip' : 'closed'),
    )
    const rows = benchRows(some, stations, 390)
    expect(rows.flatMap((row) => row.stations.map((one) => one.key))).toEqual(keys)
  })
  it.each(['strip', 'closed'])('folds a station at which all two hundred stand: %s', (shape) => {
    const many = Array.from({ length: 205 }, (_, i) => ring(i, 'measure', shape))
    const rows = benchRows(many, stations, 1204)
    expect(rows.flatMap((row) => row.placed)).toHaveLength(205)
    for (const row of rows) expect(row.width).toBeCloseTo(1204)
  })
  it('draws to one scale, and the pot round what is in it', () => {
    const rings = [
      ring(1, 'measure', 'strip'),
      ring(2, 'join', 'open'),
      ring(3, 'pickle', 'closed'),
    ]
    const [drawn] = benchRows(rings, stations, 1204)
    expect(drawn?.placed[0]?.length).toBeCloseTo(53 * (drawn?.perMm ?? 0))
    expect(drawn?.placed[1]?.inner).toBeCloseTo(8.5 * (drawn?.perMm ?? 0))
    expect(drawn?.pot?.x).toBeCloseTo(drawn?.placed[2]?.x ?? 0)
    expect(drawn?.pot?.width).toBeGreaterThan(drawn?.placed[2]?.length ?? 0)
  })
  it('stands a ring that is elsewhere there, whatever its next step', () => {
    const away = { ...ring(1, 'join', 'open'), place: 'setter' } as BenchRing
    const [drawn] = benchRows([away], stations, 1204)
    const setter = drawn?.stations.find((one) => one.key === 'setter')
    expect(drawn?.placed[0]?.x).toBeCloseTo(setter?.x ?? 0)
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
