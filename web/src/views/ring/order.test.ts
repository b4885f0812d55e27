import { describe, expect, it } from 'vitest'

import type { Job, Schemas } from '$lib/api/client'
import {
  chosenKey,
  countKey,
  entryFields,
  isAsked,
  needsOf,
  TODAY,
  waysOf,
  type WordSpec,
} from '../sheet/order'
import { first, fromJob, intoStyle, styleFields, toOrder, type StyleSpec } from './order'

const word = (more: Partial<WordSpec>): WordSpec => ({
  field: '',
  label: 'a word',
  before: '',
  after: '',
  kind: 'length',
  first: '',
  begins: {},
  placeholder: '',
  choices: [],
  when: '',
  seen: '',
  listed: '',
  parts: [],
  most: 1,
  least: 1,
  ...more,
})
const part = (field: string, kind: string, begins: Record<string, string>) => ({
  field,
  label: field,
  before: '',
  after: '',
  kind,
  begins,
  placeholder: '',
  choices: [],
  when: '',
  seen: '',
  listed: '',
})
const style = (key: string, more: Partial<StyleSpec> = {}): StyleSpec => ({
  key,
  title: key,
  begins: {
    size: 'US 7 1/2',
    metal: 'sterling',
    'stock.profile': 'half-round',
    'stock.width_mm': '4.0',
    'stock.thickness_mm': '1.8',
  },
  words: [],
  stock_says: 'from',
  profiles: [],
  leave: 'small',
  joined: true,
  ...more,
})
const VEE = word({
  kind: 'one-of',
  first: 'v_angle_deg',
  parts: [
    part('v_angle_deg', 'number', { v_angle_deg: '75' }),
    part('v_rise_mm', 'length', { v_rise_mm: '3.5' }),
  ],
})
const OUTER = word({
  field: 'outer',
  kind: 'list',
  most: 3,
  parts: [
    part('stock', 'stock', {
      'stock.profile': 'rectangle',
      'stock.width_mm': '3',
      'stock.thickness_mm': '1.2',
    }),
    part('fit_mm', 'signed', { fit_mm: '0' }),
  ],
})
const PLAIN = style('plain-band')
const WISHBONE = style('wishbone', { words: [VEE] })
const STACK = style('stack', { words: [OUTER] })
const FLAT = style('folded', {
  profiles: ['sheet'],
  begins: { 'stock.profile': 'sheet', 'stock.width_mm': '5', 'stock.thickness_mm': '0.6' },
  leave: 'large',
})
const WAYS = {
  home_scale: 'us',
  units: 'mm',
  rule: 'centroid',
  leave: 'small',
  blade: '4/0',
  saw_passes: 1,
  round_to_mm: 0.1,
  wide: false,
  wide_quarter_from_mm: 6,
  wide_half_from_mm: 8,
  thickness_spread_mm: 0.02,
  cutting_spread_mm: 0.15,
  saw_pass_spread_mm: 0.05,
  truing_spread_mm: 0.2,
  costly_share: 0.1,
  caliper_units: 'mm',
  half_size: 'stretch',
  repair_solder: 'ladder',
  delicate_stones: 'unset',
  glued_stones: 'agreed',
  cutter_gaps: [],
  solders: [],
  corrections: [],
  torches: [],
  metal_figures: [],
  step_minutes: [],
  papers: [],
  stones_bear: [],
  currency: 'EUR',
  decimals: 2,
  metal_prices: [],
  bench_money: false,
  hour_price: 0,
  solder_price: 0,
  setting_price: 0,
  plating_price: 0,
  degrees: 'c',
  takes_solder: 'ask',
  see_hands: 'own',
  finish_with: 'wheel',
  own_steps: [],
  metal_more: 0,
  refiner_keeps: 0.05,
  plan_day: true,
  time_zone: '',
  torch_count: 1,
  light_min: 8,
  learn_minutes: true,
  look_again_moves: false,
  end_sound: true,
  stay_awake: true,
  opening: [],
  closed_days: [],
  work_days: [],
  pots: [],
  tumblers: [],
} satisfies Schemas['Preferences']
const CATALOGUE = {
  profiles: [
    { key: 'half-round', title: 'half-round', needs: ['width_mm'] },
    { key: 'rectangle', title: 'rectangle', needs: ['width_mm'] },
    { key: 'square', title: 'square', needs: [] },
    { key: 'd', title: 'D', needs: ['width_mm', 'side_mm'] },
  ],
} as unknown as Schemas['Catalogue']
const around = (spec: StyleSpec, units = 'mm') => ({
  style: spec,
  catalogue: CATALOGUE,
  ways: { ...WAYS, units } as Schemas['Preferences'],
  gauge: null,
  jobId: null,
})
const order = (spec: StyleSpec, changes: Record<string, string> = {}, units = 'mm') => {
  const words = first(WAYS, spec)
  words.fields = { ...words.fields, ...changes }
  return toOrder(words, around(spec, units)) as unknown as Record<string, never>
}

describe('the request behind the words', () => {
  it('is nested by the paths, everything as typed', () => {
    const made = order(PLAIN, { 'stock.thickness_mm': '16 ga', 'join.saw_passes': '2' })
    expect(made.stock).toEqual({ profile: 'half-round', width_mm: '4.0', thickness_mm: '16 ga' })
    expect(made.join).toEqual({
      saw_passes: '2',
      blade: '4/0',
      file_passes: '0',
      trim_mm: '0',
    })
    expect(made.style).toBe('plain-band')
  })
  it('sends a width only where the profile has one', () => {
    expect(order(PLAIN, { 'stock.profile': 'square' }).stock).toEqual({
      profile: 'square',
      thickness_mm: '1.8',
    })
    expect(order(PLAIN, { 'stock.profile': 'd', 'stock.side_mm': '0.8' }).stock).toMatchObject({
      side_mm: '0.8',
    })
  })
  it('gives exactly one of a word of several', () => {
    const byAngle = order(WISHBONE)
    expect([byAngle.v_angle_deg, byAngle.v_rise_mm]).toEqual(['75', undefined])
    const byRise = order(WISHBONE, { [chosenKey(VEE)]: 'v_rise_mm', v_rise_mm: '4' })
    expect([byRise.v_angle_deg, byRise.v_rise_mm]).toEqual([undefined, '4'])
  })
  it('sends what a shop in inches types as it is, and says the unit once', () => {
    const made = order(WISHBONE, { 'stock.width_mm': '1/8' }, 'in')
    expect(made.stock).toMatchObject({ width_mm: '1/8' })
    expect(made.units).toBe('in')
    expect(made.v_angle_deg).toBe('75')
  })
  it('sends a list as long as it is', () => {
    const two = { ...entryFields(OUTER, 1), [countKey(OUTER)]: '2', 'outer.1.fit_mm': '-0.05' }
    const stock = { profile: 'rectangle', width_mm: '3', thickness_mm: '1.2' }
    expect(order(STACK, two).outer).toEqual([
      { stock, fit_mm: '0' },
      { stock, fit_mm: '-0.05' },
    ])
    expect(order(STACK, { ...two, [countKey(OUTER)]: '1' }).outer).toHaveLength(1)
  })
  it('leaves out a word that is not asked for as the others stand', () => {
    const split = word({ field: 'split_mm', begins: { split_mm: '8' }, when: 'ends=split' })
    const shank = style('shank', {
      words: [word({ field: 'ends', kind: 'choice', begins: { ends: 'plain' } }), split],
    })
    expect(isAsked(split, { ends: 'split' })).toBe(true)
    expect(order(shank).split_mm).toBeUndefined()
    expect(order(shank, { ends: 'split' }).split_mm).toBe('8')
  })
  it('leaves what nobody typed to the shop’s ways, and says in what it was typed', () => {
    const made = order(PLAIN)
    expect([made.ways, made.units, made.home_scale]).toEqual(['shop', 'mm', WAYS.home_scale])
    for (const name of ['spread', 'solders', 'own', 'costly_share'])
      expect(made).not.toHaveProperty(name)
  })
  it('keeps the scale and the ways of a kept job, until today’s are chosen', () => {
    const words = first(WAYS, PLAIN)
    const kept = { ...around(PLAIN), jobId: 7 }
    expect(toOrder(words, kept)).not.toHaveProperty('home_scale')
    expect(waysOf(words, 7)).toEqual({ ways_of: '7' })
    words.ways = TODAY
    expect(toOrder(words, kept)).toMatchObject({ home_scale: WAYS.home_scale })
    expect([waysOf(words, 7), waysOf(words, null)]).toEqual([{}, {}])
  })
})

describe('another style on the sheet', () => {
  const fields = first(WAYS, PLAIN).fields
  const into = (typed: Record<string, string>, after: StyleSpec) =>
    intoStyle({ fields: typed, was: {} }, PLAIN, after).fields
  it('brings its own stock where nobody touched the other', () => {
    expect(into(fields, FLAT)['stock.profile']).toBe('sheet')
    expect(into(fields, FLAT).leave).toBe('large')
    expect(into(fields, FLAT).style).toBe('folded')
  })
  it('keeps a stock that was typed, unless the style cannot be made from it', () => {
    const typed = { ...fields, 'stock.width_mm': '3.3' }
    expect(into(typed, WISHBONE)['stock.width_mm']).toBe('3.3')
    expect(into(typed, FLAT)['stock.profile']).toBe('sheet')
  })
  it('keeps the finger, the metal and a policy that was chosen', () => {
    const typed = { ...fields, size: 'UK Q', metal: 'platinum-950', leave: 'exact' }
    expect(into(typed, FLAT)).toMatchObject({ size: 'UK Q', metal: 'platinum-950', leave: 'exact' })
  })
  it('lays out again what was typed for a style that one comes back to', () => {
    const typed = { ...fields, v_angle_deg: '81', size: 'UK Q', 'stock.width_mm': '3.3' }
    const away = intoStyle({ fields: typed, was: {} }, WISHBONE, FLAT)
    expect(away.fields['stock.profile']).toBe('sheet')
    const back = intoStyle({ ...away, fields: { ...away.fields, size: 'UK S' } }, FLAT, WISHBONE)
    expect(back.fields).toMatchObject({ v_angle_deg: '81', size: 'UK S', 'stock.width_mm': '3.3' })
    expect(back.was.folded?.['stock.profile']).toBe('sheet')
  })
})

describe('what words begin with', () => {
  it('has every part of a word of several and one entry of a list', () => {
    expect(styleFields(WISHBONE)).toMatchObject({ v_angle_deg: '75', v_rise_mm: '3.5' })
    expect(styleFields(STACK)).toMatchObject({ [countKey(OUTER)]: '1', 'outer.0.fit_mm': '0' })
  })
  it('knows what a profile needs', () => {
    expect(needsOf('d', CATALOGUE)).toEqual(['width_mm', 'side_mm'])
    expect(needsOf('nothing', CATALOGUE)).toEqual([])
  })
})

describe('a kept job opens again', () => {
  const used = { rule: 'centroid', leave: 'small', round_to_mm: 0.1, join: { saw_passes: 1, blade: '4/0', file_passes: 0, trim_mm: 0 } } // prettier-ignore
  const job = (order: object, fields: Record<string, string> = {}) =>
    ({
      title: 'kept',
      customer_name: 'Pym',
      customer_id: 4,
      note: '',
      order: { size: 'US 7', metal: 'sterling', ...order },
      fields: { size: 'US 7', metal: 'sterling', ...STOCK_TEXTS, ...fields },
      plan: { used },
    }) as unknown as Job
  const STOCK_TEXTS = {
    'stock.profile': 'half-round',
    'stock.width_mm': '4',
    'stock.thickness_mm': '1.8',
  }
  it('with its own part of a word of several', () => {
    const made = fromJob(job({}, { v_rise_mm: '4' }), '', '', WISHBONE)
    expect(made.fields[chosenKey(VEE)]).toBe('v_rise_mm')
    expect(made.fields.v_rise_mm).toBe('4')
    expect(made.fields.v_angle_deg).toBe('')
    expect(toOrder(made, around(WISHBONE))).toMatchObject({ v_rise_mm: '4' })
  })
  it('with every entry of its list', () => {
    const made = fromJob(job({ outer: [{}, {}] }, { 'outer.1.fit_mm': '-0.05' }), '', '', STACK)
    expect(made.fields[countKey(OUTER)]).toBe('2')
    expect(made.fields['outer.1.fit_mm']).toBe('-0.05')
  })
  it('as this shop would type it, with what its plan took where it said nothing', () => {
    const made = fromJob(job({}, { 'stock.width_mm': '4 mm' }), '2026-05-04T16:00', '', PLAIN)
    expect(made.fields['stock.width_mm']).toBe('4 mm')
    expect([made.day, made.hour]).toEqual(['4 May 2026', '16:00'])
    expect(made.fields['join.blade']).toBe('4/0')
    expect(made.fields['join.saw_passes']).toBe('1')
    expect(made.customerId).toBe('4')
  })
})
