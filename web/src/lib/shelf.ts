/** Where the outbox keeps what waits: in the browser's own database, which holds photographs too.
 *
 * Of each item a line for the list and, where it is large, its body beside it: both in one transaction, so that there
 * is never one without the other. A promise is kept once that transaction is complete, not before.
 */
import {
  createStore,
  delMany,
  get,
  getMany,
  keys,
  setMany,
  update,
  type UseStore,
} from 'idb-keyval'

import { owner } from './api/client'

/** A body longer than this stays in the database until it is sent: a page holds no drawer full of photographs. */
export const LARGE = 64_000
/** A tab that sends says so for as long as one answer may take, and a little more. */
const LEASE_MS = 12_000

interface Kept {
  key: string
  at: number
  nth: number
}
interface Lease {
  tab: string
  until: number
}

let opened: UseStore | undefined
const store = (): UseStore => (opened ??= createStore('plain-shank', 'outbox'))
const mine = () => `${owner.workshop}.${owner.person}|`
const line = (key: string) => `line|${mine()}${key}`
const body = (key: string) => `body|${mine()}${key}`

/** Keep an item, its large body beside it; it is on the device once this is through. */
export function put(item: Kept, large: unknown): Promise<void> {
  const rows: [string, unknown][] = [[line(item.key), item]]
  if (large !== undefined) rows.push([body(item.key), large])
  return setMany(rows, store())
}

/** What is kept of this person, in the order it was done. */
export async function list<T extends Kept>(): Promise<T[]> {
  const begin = line('')
  const names = (await keys<string>(store())).filter((name) => name.startsWith(begin))
  const found = await getMany<T | undefined>(names, store())
  return found
    .filter((item) => item !== undefined)
    .sort((a, b) => a.at - b.at || a.nth - b.nth || (a.key < b.key ? -1 : 1))
}

export function bodyOf(key: string): Promise<unknown> {
  return get(body(key), store())
}

/** Change a line that is there; one that was delivered meanwhile is not made again. */
export async function mark(key: string, what: object): Promise<void> {
  let gone = false
  await update<object | undefined>(
    line(key),
    (old) => {
      gone = old === undefined
      return old && { ...old, ...what }
    },
    store(),
  )
  if (gone) await drop(key)
}

export function drop(key: string): Promise<void> {
  return delMany([line(key), body(key)], store())
}

/** Say that this tab sends, unless another one does; for pages without the browser's locks. */
export async function lease(tab: string): Promise<boolean> {
  let had = false
  await update<Lease>(
    `lease|${mine()}`,
    (old) => {
      had = !old || old.tab === tab || old.until < Date.now()
      return had ? { tab, until: Date.now() + LEASE_MS } : (old as Lease)
    },
    store(),
  )
  return had
}

export async function release(tab: string): Promise<void> {
  await update<Lease>(
    `lease|${mine()}`,
    (old) => (old && old.tab !== tab ? old : { tab, until: 0 }),
    store(),
  )
}
