/** What is typed of a joint, and how it is asked: texts by the paths of the request. */
import type { Schemas } from '$lib/api/client'

export type Fields = Record<string, string>
export type Seen = Schemas['JointSeen']

/** The five views in the order in which a joint is turned before the light. */
export const VIEWS = [
  { key: 'side', title: 'side' },
  { key: 'top', title: 'top' },
  { key: 'other-side', title: 'other side' },
  { key: 'under', title: 'underneath' },
  { key: 'inside', title: 'inside' },
]
const CLOSED = [
  { key: 'none', title: 'closed' },
  { key: 'light', title: 'a hair of light' },
  { key: 'parallel', title: 'parallel' },
]
const SIDE = [
  ...CLOSED,
  { key: 'wedge-out', title: 'open outside' },
  { key: 'wedge-in', title: 'open inside' },
]
const ACROSS = [
  ...CLOSED,
  { key: 'wedge-left', title: 'open at the left' },
  { key: 'wedge-right', title: 'open at the right' },
]
export const wordsOf = (view: string) =>
  view.endsWith('side') && view !== 'inside' ? SIDE : ACROSS
export const SPRING = [
  { key: 'yes', title: 'shuts by itself' },
  { key: 'no', title: 'is held shut' },
]
/** What was tried about it so far; the request takes a list. */
export const TRIED = [
  { key: '', title: 'nothing tried yet' },
  { key: 'bend', title: 'bent again already' },
  { key: 'bend / file', title: 'bent and filed already' },
  { key: 'bend / saw', title: 'bent and sawn already' },
]

/** The words of a joint that nobody has looked at yet: what saw and file took of it by then is known. */
export function fresh(passes: number, filed = '0'): Fields {
  return {
    ...Object.fromEntries(VIEWS.map(({ key }) => [`views.${key}`, 'none'])),
    gap_mm: '0',
    step_mm: '0',
    twist_deg: '0',
    own_spring: 'yes',
    passes_made: String(passes),
    filed_mm: filed,
    tried: '',
    'chip.length_mm': '',
    'chip.width_mm': '',
    'chip.thickness_mm': '',
  }
}

/** A kept look over the fresh words. */
export function asKept(words: Fields, kept: Fields | null): Fields {
  const over = Object.entries(kept ?? {}).filter(([name]) => name in words)
  return { ...words, ...Object.fromEntries(over) }
}

/** What was typed as the request takes it, lengths as the shop writes them. */
export function toSeen(fields: Fields, units: string): Seen {
  const chip = Object.fromEntries(
    ['length_mm', 'width_mm', 'thickness_mm']
      .map((name) => [name, fields[`chip.${name}`]?.trim()] as const)
      .filter(([, text]) => text),
  )
  return {
    units,
    views: Object.fromEntries(VIEWS.map(({ key }) => [key, fields[`views.${key}`] ?? 'none'])),
    gap_mm: fields.gap_mm?.trim() || 0,
    step_mm: fields.step_mm?.trim() || 0,
    twist_deg: fields.twist_deg?.trim() || 0,
    own_spring: fields.own_spring !== 'no',
    passes_made: fields.passes_made?.trim() || '0',
    filed_mm: fields.filed_mm?.trim() || 0,
    tried: (fields.tried ?? '').split(' / ').filter(Boolean),
    ...(Object.keys(chip).length ? { chip } : {}),
  } as unknown as Seen
}
