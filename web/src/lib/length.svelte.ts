/** A length that ringcraft worked out, as this shop reads it: bare millimetres, or inches with their mark. */
const INCH_MM = 25.4
/** The shop's unit, as the session says it. */
export const shop = $state({ units: 'mm' })
const inches = () => shop.units === 'in'

/** In a sentence or a drawing: 1.80, or 0.071″. */
export function length(mm: number, places = 2, ofAnInch = 3): string {
  return inches() ? `${(mm / INCH_MM).toFixed(ofAnInch)}″` : mm.toFixed(places)
}

/** The same with its label: 1.80 mm, or 0.071″. */
export function labelled(mm: number, places = 2): string {
  return inches() ? length(mm) : `${length(mm, places)} mm`
}

const plain = (figure: number) => String(Math.round(figure * 1e4) / 1e4)

/** As somebody in this shop would type it into a field: what is no whole thousandth of an inch keeps its mm. */
export function typed(mm: number): string {
  if (!inches()) return plain(mm)
  const thousandths = Math.round((mm / INCH_MM) * 1000)
  const exact = Math.abs((thousandths * INCH_MM) / 1000 - mm) < 1e-6
  return exact ? plain(thousandths / 1000) : `${plain(mm)} mm`
}

/** Where a mark was moved to, as it is typed: to a hundredth of a millimetre, or a thousandth of an inch. */
export function movedTo(mm: number): string {
  return inches() ? (mm / INCH_MM).toFixed(3) : plain(Math.round(mm * 100) / 100)
}

/** The units that a ruler is drawn in. */
export const rulerUnits = (): 'mm' | 'in' => (inches() ? 'in' : 'mm')
