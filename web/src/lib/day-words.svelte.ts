/** What reads a day in words, kept apart: most screens never need it. */
type Words = typeof import('chrono-node/en')
/** What reads a day in words: fetched when a sheet asks for a day, so that a bench opens without it. */
let words = $state.raw<Words | null>(null)
let fetched: Promise<void> | null = null

/** Fetch what reads days in words; a date in full is read without it. A failed fetch is tried again the next time. */
export function fetchWords(): Promise<void> {
  fetched ??= import('chrono-node/en')
    .then((found) => {
      words = found
    })
    .catch(() => {
      fetched = null
    })
  return fetched
}

/** It, once it is here. */
export const dayWords = () => words
