import { describe, expect, it } from 'vitest'

import type { Schemas } from '$lib/api/client'
import { linesOf, packed, rowsOf, told, unpacked, written, type Row } from './rows'

const FORMS = [
  { key: 'chips', title: 'chips' },
  { key: 'wire', title: 'wire' },
]
const TABLE = {
  key: 'grade',
  head: 'solder',
  columns: [
    { name: 'flows_c', title: 'flows', choices: [] },
    { name: 'form', title: 'form', choices: FORMS },
  ],
  ours: [
    {
      key: 'hard',
      title: 'silver hard',
      cells: { flows_c: '790', form: 'chips' },
      source: 'memory',
    },
    {
      key: 'easy',
      title: 'silver easy',
      cells: { flows_c: '720', form: 'chips' },
      source: 'memory',
    },
  ],
  names: [
    { key: 'hard', title: 'silver hard' },
    { key: 'easy', title: 'silver easy' },
    { key: 'soft', title: 'soft' },
  ],
  more: true,
  together: ['flows_c', 'melts_c'],
} as unknown as Schemas['Table']
const FREE = { ...TABLE, key: 'title', names: [], ours: [] } as unknown as Schemas['Table']

describe('a way that is a list', () => {
  it('shows ours pale, and the own in its place', () => {
    const own = [{ grade: 'easy', flows_c: '712', form: 'wire' }]
    const lines = linesOf(TABLE, own, [], '')
    expect(lines.map(({ key, place }) => [key, place])).toEqual([
      ['hard', -1],
      ['easy', 0],
    ])
    expect(lines[1]?.pale).toMatchObject({ flows_c: '', form: 'chips' })
    expect(lines[0]?.pale.flows_c).toBe('790')
  })
  it('shows two of a name under one another, and what is not ours at the end', () => {
    const own: Row[] = [{ grade: 'soft' }, { grade: 'easy' }, { grade: 'easy', flows_c: '700' }]
    expect(linesOf(TABLE, own, [], '').map(({ key, place }) => [key, place])).toEqual([
      ['hard', -1],
      ['easy', 1],
      ['easy', 2],
      ['soft', 0],
    ])
  })
  it('shows a person the shop’s row pale, and whose it is', () => {
    const lines = linesOf(TABLE, [], [{ grade: 'easy', flows_c: '712', form: '' }], 'the shop’s')
    expect(lines[1]).toMatchObject({
      source: 'the shop’s',
      pale: { flows_c: '712', form: 'chips' },
    })
    const named = linesOf(FREE, [], [{ title: 'pen' }], 'the shop’s')
    expect(named).toMatchObject([{ key: 'pen', place: -1, source: 'the shop’s', fixed: true }])
  })
  it('makes a row of a cell that is written, with what was chosen in it, and keeps its line', () => {
    const line = linesOf(TABLE, [], [], '')[0]
    if (!line) throw new Error('no line')
    const own = written(TABLE, [], line, 'flows_c', '7')
    expect(own).toEqual([{ grade: 'hard', form: 'chips', flows_c: '7' }])
    const then = linesOf(TABLE, own, [], '')[0]
    expect(then?.id).toBe(line.id)
    if (then) expect(written(TABLE, own, then, 'flows_c', '78')[0]?.flows_c).toBe('78')
  })
  it('keeps the line of what is named freely while its name is typed', () => {
    const before = linesOf(FREE, [{ title: 'p' }], [], '')[0]
    const after = linesOf(FREE, [{ title: 'pe' }], [], '')[0]
    expect(after?.id).toBe(before?.id)
  })
  it('is one text of its form, sent as rows; a text of before goes over as it was typed', () => {
    const rows = [{ grade: 'hard' }]
    expect(unpacked(packed(rows))).toEqual(rows)
    expect([packed([]), unpacked(''), unpacked('silver hard 745')]).toEqual([
      '',
      '',
      'silver hard 745',
    ])
    expect(rowsOf('{"a":1}')).toEqual([])
  })
  it('is told in words beside a colleague’s', () => {
    expect(
      told(TABLE, packed([{ grade: 'hard', flows_c: '790', form: 'wire' }, { grade: 'x' }])),
    ).toBe('silver hard 790 wire; x')
    expect(told(TABLE, 'silver hard 745')).toBe('silver hard 745')
  })
})
