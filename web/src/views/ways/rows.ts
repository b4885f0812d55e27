/** The ways that are lists: the rows of a table as they are shown and as they are kept. */
import type { Schemas } from '$lib/api/client'

export type Row = Record<string, string>
type Table = Schemas['Table']

/** A list as one text of a form's fields: what a draft keeps, what is compared with a colleague's. */
export function packed(rows: unknown): string {
  return Array.isArray(rows) && rows.length ? JSON.stringify(rows) : ''
}

/** The rows of such a text; none where it is a text of before, which goes over as it was typed. */
export function rowsOf(text: string): Row[] {
  try {
    const read: unknown = JSON.parse(text)
    return Array.isArray(read) ? (read as Row[]) : []
  } catch {
    return []
  }
}

/** A field of a form as it is sent: a list as its rows. */
export function unpacked(text: string): string | Row[] {
  const rows = rowsOf(text)
  return rows.length ? rows : text
}

/** A line of a table: the shop's own row with its place in the list, or ours, which nobody has touched. */
export interface Line {
  /** What it stays by on the screen while it is typed in. */
  id: string
  key: string
  title: string
  /** Its place in the own list; under nought where it is not in it yet. */
  place: number
  /** What stands pale in its cells where nothing is written. */
  pale: Record<string, string>
  source: string
  /** The shop's, as a person sees it that is named freely: what is another's is written as one's own. */
  fixed?: boolean
}

/** What stands in a table: each of ours, in its place the own rows of its name; then what is named freely. */
export function linesOf(table: Table, own: Row[], above: Row[], whose: string): Line[] {
  const places = own.map((row, place) => ({ row, place }))
  const known = new Set(table.ours.map((one) => one.key))
  const lines = table.ours.flatMap((ours) => {
    const over = above.find((row) => row[table.key] === ours.key)
    const said = Object.fromEntries(Object.entries(over ?? {}).filter(([, value]) => value))
    const pale = { ...ours.cells, ...said }
    const source = over ? whose : ours.source
    const mine = places.filter(({ row }) => row[table.key] === ours.key)
    const line = { key: ours.key, title: ours.title, pale, source }
    const found = mine.length ? mine.map((one) => one.place) : [-1]
    return found.map((place, nth) => {
      const paired = table.together.some((cell) => own[place]?.[cell])
      const none = paired ? Object.fromEntries(table.together.map((cell) => [cell, ''])) : {}
      return { ...line, pale: { ...pale, ...none }, place, id: `${ours.key}/${nth}` }
    })
  })
  const title = (key: string) => table.names.find((one) => one.key === key)?.title ?? key
  const free = places
    .filter(({ row }) => !known.has(row[table.key] ?? ''))
    .map(({ row, place }) => {
      const key = row[table.key] ?? ''
      return { id: `free/${place}`, key, title: title(key), place, pale: {}, source: '' }
    })
  const named = new Set(own.map((row) => row[table.key]))
  const theirs = above
    .filter((row) => !known.has(row[table.key] ?? '') && !named.has(row[table.key]))
    .map((row, nth) => ({
      id: `above/${nth}`,
      key: row[table.key] ?? '',
      title: title(row[table.key] ?? ''),
      place: -1,
      pale: row,
      source: whose,
      fixed: true,
    }))
  return [...lines, ...theirs, ...free]
}

/** The own rows with a cell written; a row that is not there yet begins with what is chosen in it. */
export function written(table: Table, own: Row[], line: Line, cell: string, value: string): Row[] {
  if (line.place >= 0)
    return own.map((row, place) => (place === line.place ? { ...row, [cell]: value } : row))
  const begun = Object.fromEntries(
    table.columns
      .filter((one) => one.choices.length)
      .map((one) => [one.name, line.pale[one.name] ?? '']),
  )
  return [...own, { [table.key]: line.key, ...begun, [cell]: value }]
}

/** A list as one reads it: each row its words, for what stands beside a colleague's. */
export function told(table: Table, text: string): string {
  const rows = rowsOf(text)
  if (!rows.length) return text
  const name = (row: Row) =>
    table.names.find((one) => one.key === row[table.key])?.title ?? row[table.key]
  return rows
    .map((row) =>
      [name(row), ...table.columns.map((one) => row[one.name])].filter(Boolean).join(' '),
    )
    .join('; ')
}
