/** What waits in the outbox: its shape, what older pages left out of it, and why it may have to be asked about. */

export interface Item {
  key: string
  method: 'POST' | 'PUT' | 'DELETE'
  path: string
  body: unknown
  /** When it was done, by this device's clock [ms]. */
  at: number
  /** What it is, in words: the tick of Solder. */
  says: string
  /** The sheet that it was typed on, and where its draft is kept. */
  where: string
  slot: string
  /** Why the server would not have it; empty while it is on its way. */
  refused: string
  /** At which field it was refused first. */
  refusedAt: string
  /** Somebody has said that it shall go out, however old it is. */
  sure: boolean
  /** Which one of this tab it is, of those done in one moment. */
  nth: number
  /** After how many restores of the records it was done. */
  epoch: number
  /** Its body is on the shelf alone. */
  large: boolean
  /** It is on the device: a closed tab loses nothing of it. */
  kept: boolean
}
export type Parcel = Pick<Item, 'method' | 'path' | 'body' | 'says' | 'where'> &
  Partial<Pick<Item, 'slot' | 'key'>>

/** Doors that have moved since something was left on this device: the one for each kind of work is one for all. */
export function moved({ path, body }: Pick<Item, 'path' | 'body'>): Pick<Item, 'path' | 'body'> {
  if (path === '/api/gauges/chart') return { path: '/api/charts', body }
  const old = /^(\/api\/jobs(?:\/\d+)?)\/resize$/.exec(path)
  return old?.[1] ? { path: old[1], body: { ...(body as object), work: 'resize' } } : { path, body }
}

/** The server knows a key for fourteen days: what is older could be made twice, so a person is asked. */
export const OLDEST_MS = 13 * 86_400_000
export const TOO_OLD =
  'It has waited for a long time and may have arrived unseen: look first, then send it again or drop it.'
export const SET_BACK =
  'The records were set back to a backup since: look first whether it still belongs there, then send it or drop it.'

/** What an item has beside what an older page kept of it. */
export const NEW = {
  slot: '',
  refused: '',
  refusedAt: '',
  sure: false,
  nth: 0,
  epoch: 0,
  large: false,
  kept: false,
}
