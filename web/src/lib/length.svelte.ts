/** A length that ringcraft worked out, as this shop reads it: bare millimetres, or inches with their mark. */
const INCH_MM = 25.4
/** The shop's unit, as the session says it. */
export const shop = $state({ units: 'mm' })
const inches = () => shop.units === 'in'

/** In a sentence or a drawing: 1.80, or 0.071″. */
export function length(mm: number, places = 2): string {
  return inches() ? `${(mm / INCH_MM).toFixed(3)}″` : mm.toFixed(places)
}

/** The same with its label: 1.80 mm, or 0.071″. */
export function labelled(mm: number, places = 2): string {
  return inches() ? length(mm) : `${length(mm, places)} mm`
}

/** As somebody in this shop would type it into a field. */
export function typed(mm: number): string {
  return String(Math.round((inches() ? mm / INCH_MM : mm) * 1000) / 1000)
}
