import { describe, expect, it } from 'vitest'

import { hours, lanes, moved, named, runs, span } from './hours'

const at = (hour: number, minute = 0) => Date.UTC(2026, 10, 30, hour, minute)

describe('a day along its hours', () => {
  it('reaches over whole hours, four at least', () => {
    expect(span([at(9, 20), at(17, 10)], at(8))).toEqual({ begins: at(9), ends: at(18) })
    expect(span([at(9, 20), at(9, 40)], at(8))).toEqual({ begins: at(9), ends: at(13) })
    expect(span([], at(8, 30))).toEqual({ begins: at(8), ends: at(17) })
  })
  it('tells as many hours as there is room for', () => {
    const day = { begins: at(9), ends: at(18) }
    expect(hours(day, 1000)).toHaveLength(10)
    expect(hours(day, 300)).toEqual([at(9), at(11), at(13), at(15), at(17)])
  })
  it('lays no name over another', () => {
    const laid = named(
      [
        { x: 0, text: 'Brae, half-round' },
        { x: 20, text: 'Pym' },
        { x: 30, text: 'Arden' },
        { x: 300, text: 'Teague' },
      ],
      2,
    )
    expect(laid.map((one) => [one.text, one.line])).toEqual([
      ['Brae, half-round', 0],
      ['Pym', 1],
      ['Teague', 0],
    ])
  })
  it('gives what runs at once lines of their own', () => {
    const laid = lanes([
      { begins: 0, ends: 10 },
      { begins: 5, ends: 8 },
      { begins: 8, ends: 9 },
      { begins: 10, ends: 12 },
    ])
    expect(laid.map((one) => one.lane)).toEqual([0, 1, 1, 0])
  })
  it('takes the steps of one ring in a row as one run', () => {
    const step = (job: number, begins: number, ends: number) => ({
      job,
      begins: at(9, begins),
      ends: at(9, ends),
    })
    const laid = runs([
      step(1, 0, 3),
      step(1, 3, 5),
      step(2, 5, 9),
      step(1, 9, 10),
      step(1, 12, 13),
    ])
    expect(laid.map((run) => run.length)).toEqual([2, 1, 1, 1])
  })
  it('moves by minutes, onto fives', () => {
    expect(moved(at(10, 42), 5)).toBe(at(10, 45))
    expect(moved(at(10, 45), -30)).toBe(at(10, 15))
  })
})
