import { describe, expect, it } from 'vitest'

import type { Job, Schemas } from '$lib/api/client'
import { choose, isAsked, isSeen, places, type PartSpec, type WordSpec } from '../sheet/order'
import { first, fromJob, toOrder, upgraded, wordsOf } from './order'

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
const part = (field: string, more: Partial<PartSpec> = {}): PartSpec => ({
  field,
  label: field,
  before: '',
  after: '',
  kind: 'text',
  begins: {},
  placeholder: '',
  choices: [],
  listed: '',
  when: '',
  seen: '',
  ...more,
})
const word = (field: string, more: Partial<WordSpec> = {}): WordSpec => ({
  ...part(field, { begins: { [field]: '' } }),
  first: '',
  parts: [],
  most: 1,
  least: 1,
  ...more,
})
const titled = (...keys: string[]) => keys.map((key) => ({ key, title: key }))
const PATTERN = 'features=pattern-all-round'
const SENTENCE = [
  word('from'),
  word('from_sides.1'),
  word('from_gauge', { kind: 'own', begins: {} }),
  word('daylight', { kind: 'yes', begins: { daylight: 'no' } }),
  word('to'),
  word('metal', { begins: { metal: 'gold-14k-yellow' } }),
  word('shank', { kind: 'stock', begins: { 'shank.profile': 'half-round' } }),
  word('stones', {
    kind: 'chosen',
    begins: {},
    parts: [
      part('kind'),
      part('setting', { begins: { setting: 'claw' } }),
      part('state', {
        kind: 'flags',
        choices: titled('', 'treated', 'glued', 'treated-glued'),
        begins: { state: '' },
      }),
      part('from_joint_mm', { begins: { from_joint_mm: '' } }),
    ],
  }),
  word('head.span_mm', { when: 'stones.0.kind|head.span_mm' }),
  word('features', { kind: 'chosen', begins: {}, parts: [part('')] }),
  word('pattern.pitch_mm', { when: PATTERN }),
  word('pattern.at', { when: `${PATTERN}&pattern.pitch_mm`, begins: { 'pattern.at': 'outside' } }),
  word('method'),
  word('join.blade', { begins: { 'join.blade': '2/0' } }),
  word('join.saw_passes', { begins: { 'join.saw_passes': '3' } }),
  word('piece.length_mm', { seen: 'insert' }),
  word('piece.at', { when: 'piece.length_mm', begins: { 'piece.at': 'neutral' } }),
  word('seam_open', { kind: 'yes', begins: { seam_open: 'no' } }),
  word('offcut', { begins: { offcut: 'returned' } }),
  word('tested.mark', { seen: 'tested' }),
]
const CATALOGUE = {
  profiles: [
    { key: 'half-round', needs: ['width_mm'] },
    { key: 'round', needs: [] },
  ],
  sentences: { resize: [SENTENCE] },
} as unknown as Schemas['Catalogue']
const [stones, features] = ['stones', 'features'].map((field) =>
  wordsOf(CATALOGUE).find((one) => one.field === field),
) as [WordSpec, WordSpec]
const around = { catalogue: CATALOGUE, ways: WAYS, jobId: null, gauge: null, toGauge: null }
const order = (changes: Record<string, string>) => {
  const words = first(WAYS, CATALOGUE)
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
    const made = order({ 'from_sides.1': '7 1/8', 'piece.length_mm': '2.2', 'tested.mark': '585' })
    expect(made.from_sides).toEqual(['7', '7 1/8'])
    expect(made.piece).toEqual({ length_mm: '2.2', at: 'neutral' })
    expect(made.tested).toEqual({ mark: '585' })
  })

  it('says of a stone what its state says', () => {
    const made = order({
      'stones.0.kind': 'opal',
      'stones.0.state': 'treated-glued',
      'stones.1.kind': 'ruby',
    })
    expect(made.stones).toMatchObject([
      { kind: 'opal', glued: true, treated: true },
      { kind: 'ruby', glued: false, treated: false },
    ])
  })

  it('asks for a pitch only with a pattern', () => {
    expect(order({ 'pattern.pitch_mm': '2' })).not.toHaveProperty('pattern')
    const made = order({ 'pattern.pitch_mm': '2', 'features.0': 'pattern-all-round' })
    expect(made.pattern).toEqual({ pitch_mm: '2', at: 'outside' })
  })
})

describe('lists of stones and features', () => {
  const kinds = (fields: Record<string, string>) =>
    places('stones', fields, 'kind').map((i) => fields[`stones.${i}.kind`])
  it('grow by one, and close up where one goes', () => {
    let fields = choose(stones, {}, 0, 'ruby')
    fields = choose(stones, fields, 1, 'opal')
    expect(fields['stones.1.setting']).toBe('claw')
    fields['stones.1.state'] = 'glued'
    fields = choose(stones, fields, 2, 'pearl')
    expect(kinds(fields)).toEqual(['ruby', 'opal', 'pearl'])
    fields = choose(stones, fields, 0, '')
    expect(kinds(fields)).toEqual(['opal', 'pearl'])
    expect(fields['stones.0.state']).toBe('glued')
    expect(fields['stones.1.state']).toBe('')
    fields = choose(features, choose(features, fields, 0, 'hollow'), 1, 'plated')
    expect(isAsked({ when: 'features=plated' }, fields)).toBe(true)
    fields = choose(features, fields, 0, '')
    expect(places('features', fields).map((i) => fields[`features.${i}`])).toEqual(['plated'])
    expect(isAsked({ when: 'features=hollow' }, fields)).toBe(false)
  })
})

it('a draft of before is laid as this sheet calls its fields', () => {
  const before = {
    ...first(WAYS, CATALOGUE),
    fields: { from: '7', '@other_side': '7 1/8', '@to_gauge': '3' },
  }
  expect(upgraded(before).fields).toEqual({ from: '7', 'from_sides.1': '7 1/8', to_gauge: '3' })
})

it('a word is asked for and shown as others stand', () => {
  const asked = (when: string, fields: Record<string, string>) => isAsked({ when }, fields)
  expect(asked('a&b=2', { a: 'x', b: '2' })).toBe(true)
  expect(asked('a&b=2', { a: ' ', b: '2' })).toBe(false)
  expect(asked('a|b=2', { b: '2' })).toBe(true)
  const facts = new Set(['insert'])
  expect(
    ['', 'insert', '!insert', 'never', '!never'].filter((seen) => isSeen({ seen }, facts)),
  ).toEqual(['', 'insert', '!never'])
})

it('a kept job comes back as it was said', () => {
  const said = order({
    'from_sides.1': '7 1/8',
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
  const words = fromJob(job, '', CATALOGUE)
  expect(toOrder(words, around)).toEqual({
    ...said,
    shank: { profile: 'half-round', thickness_mm: '1.4', width_mm: '' },
  })
})
