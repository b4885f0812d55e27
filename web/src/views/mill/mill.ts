/** What is asked of the mill, from the words of its sheet. */
export interface MillFields {
  what: string
  metal: string
  poured: string
  from: string
  from_width: string
  from_thick: string
  from_long: string
  to: string
  to_width: string
  to_thick: string
  to_long: string
  per_pass: string
  anneal_at: string
  worked: string
  now: string
}
export interface ThinFields {
  form: string
  width: string
  thick: string
  middle_width: string
  middle_thick: string
  final: string
  end: string
  middle: string
  now_long: string
  now_width: string
  now_thick: string
}

export const MILL: MillFields = {
  what: 'thin',
  metal: 'sterling',
  poured: 'no',
  from: 'square',
  from_width: '',
  from_thick: '6.5',
  from_long: '28',
  to: 'square',
  to_width: '',
  to_thick: '2.4',
  to_long: '',
  per_pass: '10 %',
  anneal_at: '',
  worked: '',
  now: '',
}
export const THIN: ThinFields = {
  form: 'thin-middle',
  width: '4.5',
  thick: '3.2',
  middle_width: '4.5',
  middle_thick: '1.7',
  final: '59',
  end: '9',
  middle: '12',
  now_long: '',
  now_width: '',
  now_thick: '',
}

const said = (text: string) => text.trim() || null

/** A bar to roll down. */
export function millBody(f: MillFields, needs: (profile: string) => string[], units: string) {
  const bar = (profile: string, width: string, thick: string, long: string) => ({
    profile,
    thickness_mm: thick,
    width_mm: needs(profile).includes('width_mm') ? said(width) : null,
    length_mm: said(long),
  })
  return {
    metal: f.metal,
    poured: f.poured === 'yes',
    start: bar(f.from, f.from_width, f.from_thick, f.from_long),
    target: bar(f.to, f.to_width, f.to_thick, f.to_long),
    reduction_per_pass: said(f.per_pass) ?? '10 %',
    anneal_at: said(f.anneal_at),
    worked_so_far: said(f.worked) ?? 0,
    now: f.now.trim() ? bar(f.from, f.from_width, f.now, '') : null,
    units,
  }
}

/** A bar to thin in one place; half-way, what the caliper says of it. */
export function thinBody(f: ThinFields, metal: string, poured: string, units: string) {
  const thick = f.form === 'thick-middle'
  const part = { width_mm: f.middle_width, thickness_mm: f.middle_thick }
  return {
    bar: { width_mm: f.width, thickness_mm: f.thick },
    form: f.form,
    final_length_mm: f.final,
    ...(thick
      ? { ends: part, middle_mm: said(f.middle) }
      : { middle: part, end_mm: said(f.end) ?? 0 }),
    now: f.now_long.trim()
      ? { length_mm: f.now_long, width_mm: said(f.now_width), thickness_mm: said(f.now_thick) }
      : null,
    metal,
    poured: poured === 'yes',
    units,
  }
}

/** The field of a refused mill as the sheet calls it. */
export function fieldOf(field: string, thins = true): string {
  if (!thins && field.startsWith('now.')) return 'now'
  const names: Record<string, string> = {
    'bar.width_mm': 'width',
    'bar.thickness_mm': 'thick',
    'middle.width_mm': 'middle_width',
    'middle.thickness_mm': 'middle_thick',
    'ends.width_mm': 'middle_width',
    'ends.thickness_mm': 'middle_thick',
    final_length_mm: 'final',
    end_mm: 'end',
    middle_mm: 'middle',
    'now.length_mm': 'now_long',
    'now.width_mm': 'now_width',
    'now.thickness_mm': 'now_thick',
    'now.profile': 'now',
    'start.width_mm': 'from_width',
    'start.thickness_mm': 'from_thick',
    'start.length_mm': 'from_long',
    'start.profile': 'from',
    'target.width_mm': 'to_width',
    'target.thickness_mm': 'to_thick',
    'target.length_mm': 'to_long',
    'target.profile': 'to',
    reduction_per_pass: 'per_pass',
    worked_so_far: 'worked',
  }
  return names[field] ?? field
}
