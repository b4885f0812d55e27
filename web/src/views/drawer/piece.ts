/** A piece of stock as it is typed, and as it is sent. */
import type { Schemas } from '$lib/api/client'

export interface PieceFields {
  kind: string
  metal: string
  profile: string
  width_mm: string
  thickness_mm: string
  side_mm: string
  length_mm: string
  mass_g: string
  state: string
  poured: string
  solder: string
  name: string
  lot: string
  place: string
  price: string
  owner: string
  job_id: string
}

export const FRESH: PieceFields = {
  kind: 'wire',
  metal: 'sterling',
  profile: 'half-round',
  width_mm: '',
  thickness_mm: '',
  side_mm: '',
  length_mm: '',
  mass_g: '',
  state: 'clean',
  poured: 'no',
  solder: '',
  name: '',
  lot: '',
  place: '',
  price: '',
  owner: '',
  job_id: '',
}

/** The words of a piece: what people say of it beside what it is. */
export function wordsOf(
  f: Pick<PieceFields, 'name' | 'lot' | 'place' | 'owner' | 'solder' | 'price' | 'job_id'>,
) {
  return {
    name: f.name,
    lot: f.lot,
    place: f.place,
    owner: f.owner,
    solder: f.solder,
    price: f.price.trim() || null,
    job_id: f.job_id ? Number(f.job_id) : null,
  }
}

/** What is sent: only the measures that this kind has, as they were typed. */
export function pieceOf(
  f: PieceFields,
  kinds: Schemas['StockKindChoice'][],
  needs: string[],
  units: string,
): Record<string, unknown> {
  const counted = kinds.find((one) => one.key === f.kind)?.counted ?? 'length'
  const said: Record<string, string> = { kind: f.kind, metal: f.metal, units }
  const add = (name: keyof PieceFields) => {
    if (f[name].trim()) said[name] = f[name]
  }
  if (counted === 'mass') {
    add('mass_g')
    if (f.kind === 'scrap') said.state = f.state
    if (f.kind === 'solder') add('solder')
    return said
  }
  if (counted === 'length') said.profile = f.profile
  for (const name of ['thickness_mm', 'length_mm', 'mass_g'] as const) add(name)
  if (counted === 'sheet' || needs.includes('width_mm')) add('width_mm')
  if (needs.includes('side_mm') && counted === 'length') add('side_mm')
  return { ...said, poured: f.poured === 'yes' }
}
