/** A stale save: theirs beside mine, field by field. Nothing here knows what is saved. */
export type Fields = Record<string, string>

export interface Row {
  field: string
  label: string
  mine: string
  theirs: string
  pick: 'mine' | 'theirs'
}

/** The fields that differ. What only they touched is theirs, what I touched is mine, until somebody chooses. */
export function besides(base: Fields, mine: Fields, theirs: Fields, labels: Fields): Row[] {
  const names = [...new Set([...Object.keys(labels), ...Object.keys(mine), ...Object.keys(theirs)])]
  return names
    .filter((name) => (mine[name] ?? '') !== (theirs[name] ?? ''))
    .map((name) => ({
      field: name,
      label: labels[name] ?? name,
      mine: mine[name] ?? '',
      theirs: theirs[name] ?? '',
      pick: (mine[name] ?? '') === (base[name] ?? '') ? 'theirs' : 'mine',
    }))
}

/** Mine with what was chosen of theirs. */
export function chosen(mine: Fields, rows: Row[]): Fields {
  const taken = rows.filter((row) => row.pick === 'theirs').map((row) => [row.field, row.theirs])
  return { ...mine, ...(Object.fromEntries(taken) as Fields) }
}
