/** Words of the trade found in what a step says: each once a step, so that a line stays a line. */
import type { Schemas } from './api/client'

export type TradeWord = Schemas['Word']
export interface Said {
  text: string
  /** The key of the word that this is. */
  word: string
}

/** The lines of a step in pieces; a word is marked where it first stands, the longest form first. */
export function marked(lines: string[], words: TradeWord[]): Said[][] {
  const forms = words
    .flatMap((word) => word.finds.map((form) => ({ form: form.toLowerCase(), key: word.key })))
    .sort((a, b) => b.form.length - a.form.length)
  if (!forms.length) return lines.map((text) => [{ text, word: '' }])
  const keys = new Map(forms.map(({ form, key }) => [form, key]))
  const escaped = forms.map(({ form }) => form.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
  const pattern = new RegExp(`(?<![\\p{L}-])(?:${escaped.join('|')})(?![\\p{L}-])`, 'giu')
  const seen = new Set<string>()
  return lines.map((line) => {
    const out: Said[] = []
    let from = 0
    for (const match of line.matchAll(pattern)) {
      const key = keys.get(match[0].toLowerCase()) ?? ''
      if (!key || seen.has(key)) continue
      seen.add(key)
      if (match.index > from) out.push({ text: line.slice(from, match.index), word: '' })
      out.push({ text: match[0], word: key })
      from = match.index + match[0].length
    }
    if (from < line.length) out.push({ text: line.slice(from), word: '' })
    return out
  })
}
