/** What is typed of a joint, and how it is asked: texts by the paths of the request. */
import type { Schemas } from '$lib/api/client'

export type Fields = Record<string, string>
export type Seen = Schemas['JointSeen']

export const SPRING = [
  { key: 'yes', title: 'shuts by itself' },
  { key: 'no', title: 'is held shut' },
]
/** The words of a joint that nobody has looked at yet: what saw and file took of it by then is known. */
export function fresh(views: string[], passes: number, filed = '0'): Fields {
  return {
    ...Object.fromEntries(views.map((key) => [`views.${key}`, 'none'])),
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
    views: Object.fromEntries(
      Object.entries(fields)
        .filter(([name]) => name.startsWith('views.'))
        .map(([name, word]) => [name.slice('views.'.length), word]),
    ),
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
