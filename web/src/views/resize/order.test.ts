import { describe, expect, it } from 'vitest'

import type { Job, Schemas } from '$lib/api/client'
import {
  features,
  first,
  fromJob,
  has,
  OTHER_SIDE,
  setFeature,
  setStone,
  stones,
  toOrder,
} from './order'

const WAYS = {
  home_scale: 'us',
  units: 'mm',
  blade: '4/0',
  saw_passes: 1,
  half_size: 'stretch',
  repair_solder: 'ladder',
  delicate_stones: 'unset',
  glued_stones: 'agreed',
  cutter_gaps: [2, 2.5],
  solders: 'silver hard 745',
  metal_figures: '',
  step_minutes: '',
  papers: '',
  stones_bear: '',
} as unknown as Schemas['Preferences']
const CATALOGUE = {
  profiles: [
    { key: 'half-round', needs: ['width_mm'] },
    { key: 'round', needs: [] },
  ],
} as unknown as Schemas['Catalogue']
const around = { catalogue: CATALOGUE, ways: WAYS, jobId: null, gauge: null, toGauge: null }
const order = (changes: Record<string, string>) => {
  const words = first(WAYS)
  words.fields = { ...words.fields, from: '7', to: '6', 'shank.thickness_mm': '1.4', ...changes }
  return toOrder(words, around) as unknown as Record<string, unknown>
}

describe('the request behind the words', () => {
  it('leaves out what is not said, for the shop’s ways to fill', () => {
    const made = order({})
    expect(made).toMatchObject({
      from: '7',
      to: '6',
      stones: [],
      features: [],
      ways: 'shop',
      units: 'mm',
    })
    for (const name of [
      'half_size',
      'cutter_gaps_mm',
      'solders',
      'own',
      'from_sides',
      'piece',
      'pattern',
      'tested',
      'head',
      'method',
    ])
      expect(made).not.toHaveProperty(name)
    expect(made.shank).toEqual({ profile: 'half-round', thickness_mm: '1.4', width_mm: '' })
  })

  it('says both sides, the piece at hand and the tests only where they are said', () => {
    const made = order({ [OTHER_SIDE]: '7 1/8', 'piece.length_mm': '2.2', 'tested.mark': '585' })
    expect(made.from_sides).toEqual(['7', '7 1/8'])
    expect(made.piece).toEqual({ length_mm: '2.2', at: 'neutral' })
    expect(made.tested).toEqual({ mark: '585' })
  })

  it('asks for a pitch only with a pattern', () => {
    expect(order({ 'pattern.pitch_mm': '2' })).not.toHaveProperty('pattern')
    const made = order({ 'pattern.pitch_mm': '2', 'features.0': 'pattern-all-round' })
    expect(made.pattern).toEqual({ pitch_mm: '2', at: 'outside' })
  })
})

describe('lists of stones and features', () => {
  it('grow by one, and close up where one goes', () => {
    let fields = setStone({}, 0, 'ruby')
    fields = setStone(fields, 1, 'opal')
    fields['stones.1.state'] = 'glued'
    fields = setStone(fields, 2, 'pearl')
    expect(stones(fields)).toEqual([0, 1, 2])
    fields = setStone(fields, 0, '')
    expect(stones(fields).map((i) => fields[`stones.${i}.kind`])).toEqual(['opal', 'pearl'])
    expect(fields['stones.0.state']).toBe('glued')
    expect(fields['stones.1.state']).toBe('')
    fields = setFeature(setFeature(fields, 0, 'hollow'), 1, 'plated')
    expect(has(fields, 'plated')).toBe(true)
    fields = setFeature(fields, 0, '')
    expect(features(fields).map((i) => fields[`features.${i}`])).toEqual(['plated'])
  })
})

it('a kept job comes back as it was said', () => {
  const said = order({
    [OTHER_SIDE]: '7 1/8',
    'features.0': 'plated',
    'features.1': 'old-seam',
    'stones.0.kind': 'opal',
    'stones.0.setting': 'bezel',
    'stones.0.state': 'treated-glued',
  })
  const job = {
    order: { ...said, from_gauge: null, to_gauge: null },
    fields: {
      from: '7',
      to: '6',
      metal: 'gold-14k-yellow',
      offcut: 'returned',
      'join.blade': '4/0',
      'join.saw_passes': '1',
      'join.seam_passes': '0',
      'shank.profile': 'half-round',
      'shank.thickness_mm': '1.4',
      features: 'plated / old-seam',
      'stones.0.kind': 'opal',
      'stones.0.setting': 'bezel',
      'stones.0.glued': 'yes',
      'stones.0.treated': 'yes',
      'cutter_gaps_mm.0': '2',
      'solders.0.grade': 'silver-hard',
    },
    title: 'ring',
    customer_name: 'Pym',
    customer_id: null,
    note: '',
    ticket: '',
  } as unknown as Job
  const words = fromJob(job, '', WAYS)
  expect(toOrder(words, around)).toEqual({
    ...said,
    shank: { profile: 'half-round', thickness_mm: '1.4', width_mm: '' },
  })
})
