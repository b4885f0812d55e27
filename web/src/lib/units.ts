/** Bare numbers are in the workshop's unit; whatever names its own unit is left as typed. */

const BARE = /^[\s\d.,/½¼¾⅛⅜⅝⅞+−-]+$/

export function withUnit(text: string, units: string): string {
  return units === 'in' && BARE.test(text) && /\d|[½¼¾⅛⅜⅝⅞]/.test(text) ? `${text.trim()} in` : text
}
