/** The id of the line that says what is wrong with a field. */
export function mistakeId(field: string): string {
  return `mistake-${field.replace(/\W+/g, '-') || 'all'}`
}
