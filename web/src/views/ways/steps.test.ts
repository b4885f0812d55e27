import { describe, expect, it } from 'vitest'

import type { Schemas } from '$lib/api/client'
import type { Row } from './rows'
import { changesOf, ofStyle, shifted, withStyle } from './steps'

type Step = Schemas['RouteStep']
const OURS = ['measure', 'cut', 'anneal', 'form', 'close', 'hand-over']
const step = (key: string, more: Partial<Step> = {}): Step => ({
  key,
  title: key,
  station: 'form',
  change: '',
  stays: '',
  when: false,
  untried: false,
  hands_min: 2,
  wait_min: 0,
  says: '',
  deed: '',
  ...more,
})
const list = (...keys: string[]) => keys.map((key) => step(key))

/** The changes made to our order one after another, as ringcraft makes them. */
function made(rows: Row[]): string[] {
  let out = OURS.slice(0, -1)
  for (const row of rows) {
    const key = row.change === 'added' ? `own-${row.title ?? ''}` : (row.step ?? '')
    out = out.filter((one) => one !== key)
    if (row.change === 'out') continue
    const at = row.after ? out.indexOf(row.after) + 1 : 0
    out.splice(at, 0, key)
  }
  return [...out, 'hand-over']
}

describe('a route of the shop’s own', () => {
  it('is ours where nothing is changed', () => {
    expect(changesOf('plain-band', OURS, list(...OURS))).toEqual([])
  })
  it('takes one change for one step that is moved, wherever it goes', () => {
    const down = list('cut', 'anneal', 'form', 'close', 'measure', 'hand-over')
    expect(changesOf('plain-band', OURS, down)).toEqual([
      { style: 'plain-band', change: 'moved', step: 'measure', after: 'close' },
    ])
    const up = list('close', 'measure', 'cut', 'anneal', 'form', 'hand-over')
    expect(changesOf('plain-band', OURS, up)).toEqual([
      { style: 'plain-band', change: 'moved', step: 'close', after: '' },
    ])
  })
  it('moves the one that was moved, of two that are neighbours', () => {
    const wanted = list('measure', 'cut', 'anneal', 'close', 'form', 'hand-over')
    const moved = (key: string) => changesOf('plain-band', OURS, wanted, key).map((one) => one.step)
    expect(moved('close')).toEqual(['close'])
    expect(moved('form')).toEqual(['form'])
  })
  it('comes to the wanted list again, whatever it is', () => {
    let seed = 7
    const dice = (most: number) => {
      seed = (seed * 1103515245 + 12345) % 2147483648
      return seed % most
    }
    for (let round = 0; round < 200; round++) {
      let wanted = list(...OURS)
      for (let n = 0; n < dice(6); n++)
        wanted = shifted(wanted, wanted[dice(wanted.length)]?.key ?? '', dice(9) - 4)
      if (dice(2)) wanted.splice(dice(wanted.length - 1), 1)
      if (dice(2))
        wanted.splice(dice(wanted.length - 1), 0, step('own-number', { title: 'number' }))
      expect(made(changesOf('plain-band', OURS, wanted))).toEqual(wanted.map((one) => one.key))
    }
  })
  it('never moves the hand-over, nor anything behind it', () => {
    const keys = (steps: Step[]) => steps.map((one) => one.key)
    expect(keys(shifted(list(...OURS), 'hand-over', -2))).toEqual(OURS)
    expect(keys(shifted(list(...OURS), 'close', 3))).toEqual(OURS)
    expect(keys(shifted(list(...OURS), 'measure', -1))).toEqual(OURS)
  })
  it('keeps what an added step says and takes', () => {
    const own = step('own-number', { title: 'number', says: 'With punches.', hands_min: 3 })
    const [row] = changesOf('plain-band', OURS, [step('measure'), own, ...list(...OURS.slice(1))])
    expect(row).toMatchObject({ after: 'measure', says: 'With punches.', hands_min: '3' })
  })
  it('leaves other styles alone', () => {
    const rows = [
      { style: 'stack', step: 'wash' },
      { style: 'plain-band', step: 'cut' },
    ]
    expect(ofStyle(rows, 'stack')).toEqual([{ style: 'stack', step: 'wash' }])
    expect(withStyle(rows, 'stack', [])).toEqual([{ style: 'plain-band', step: 'cut' }])
  })
})
