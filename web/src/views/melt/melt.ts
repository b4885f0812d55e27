/** A melt as its sheet says it, and as it is asked. */
import type { Schemas } from '$lib/api/client'

export interface MeltFields {
  metal: string
  profile: string
  width: string
  thick: string
  long: string
  count: string
  loss: string
  trim: string
  moulds: string
  /** What each bar weighs, apart by semicolons in the order of the moulds, and what ran over. */
  out: string
  over: string
  added: string
}
export const MELT: MeltFields = {
  metal: 'sterling',
  profile: 'square',
  width: '',
  thick: '5.5',
  long: '42',
  count: '1',
  loss: '2 %',
  trim: '8 %',
  moulds: '',
  out: '',
  over: '',
  added: '',
}
type Item = Schemas['ItemOut']
export type Picked = Record<number, string>

/** Moulds as they are typed: width, depth and length each, apart by blanks or ×; several apart by semicolons. */
export function mouldsOf(text: string) {
  return text
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean)
    .map((one) => {
      const [width_mm = '', depth_mm = '', length_mm = ''] = one.split(/\s*[×x*]\s*|\s+/)
      return { width_mm, depth_mm, length_mm }
    })
}

/** What goes in: the pieces that were chosen, each with what is taken of it. */
export function chosenOf(items: Item[], picked: Picked) {
  return items
    .filter((one) => picked[one.id] !== undefined)
    .map((one) => ({ item: one, mass: picked[one.id] ?? '' }))
}

export function meltBody(
  f: MeltFields,
  wide: boolean,
  items: Item[],
  picked: Picked,
  torches: Schemas['Preferences']['torches'],
  units: string,
) {
  const into = chosenOf(items, picked)
  const stock = { profile: f.profile, thickness_mm: f.thick, width_mm: wide ? f.width : null }
  return {
    metal: f.metal,
    blanks: [{ stock, length_mm: f.long, count: f.count.trim() || 1 }],
    loss: f.loss.trim() || '2 %',
    trim_and_sprue: f.trim.trim() || '8 %',
    have: into.map((one) => ({
      metal: one.item.metal,
      mass_g: one.mass,
      state: one.item.state,
      owner: one.item.owner,
    })),
    owner: into[0]?.item.owner ?? '',
    moulds: mouldsOf(f.moulds),
    torches,
    units,
  }
}

/** Whether metals of different fineness are chosen: then it is alloyed by mass balance. */
export function differs(metal: string, items: Item[], picked: Picked): boolean {
  return chosenOf(items, picked).some((one) => one.item.metal !== metal)
}

/** What is booked: what went in, and the bar that came out. */
export function bookBody(
  f: MeltFields,
  wide: boolean,
  items: Item[],
  picked: Picked,
  units: string,
) {
  const common = { metal: f.metal, units }
  const plain = { profile: f.profile, thickness_mm: f.thick, width_mm: wide ? f.width : null }
  const moulds = mouldsOf(f.moulds).map((one) => ({
    profile: one.width_mm === one.depth_mm ? 'square' : 'rectangle',
    thickness_mm: one.depth_mm,
    width_mm: one.width_mm === one.depth_mm ? null : one.width_mm,
  }))
  const weights = f.out.split(';').map((one) => one.trim())
  const bars = (moulds.length ? moulds : [plain])
    .map((section, i) => ({
      ...common,
      ...section,
      kind: 'bar',
      mass_g: weights[i] ?? '',
      poured: true,
    }))
    .filter((one, i) => i === 0 || one.mass_g)
  const over = f.over.trim() ? [{ ...common, kind: 'scrap', mass_g: f.over }] : []
  const poured = [...bars, ...over]
  const into = chosenOf(items, picked).map((one) => ({ item_id: one.item.id, mass_g: one.mass }))
  return { into, poured, added_g: differs(f.metal, items, picked) ? f.added.trim() || 0 : null }
}
