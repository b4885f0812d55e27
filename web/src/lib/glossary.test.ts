import { describe, expect, it } from 'vitest'

import { marked, type TradeWord } from './glossary'

const word = (key: string, ...finds: string[]) => ({ key, finds }) as unknown as TradeWord
const WORDS = [
  word('anneal', 'anneal', 'annealed'),
  word('pickle', 'pickle'),
  word('flux', 'flux'),
  word('anti-flux', 'anti-flux'),
]
const told = (lines: string[]) =>
  marked(lines, WORDS).map((line) =>
    line.map(({ text, word }) => (word ? `[${text}]` : text)).join(''),
  )

describe('the words of the trade in a step', () => {
  it('are marked once a step, in their longest form', () => {
    expect(told(['Anneal it; annealed it is soft.', 'Then pickle. Pickle again.'])).toEqual([
      '[Anneal] it; annealed it is soft.',
      'Then [pickle]. Pickle again.',
    ])
  })

  it('are whole words: a part of another is none', () => {
    expect(told(['Anti-flux on the seam, flux beside it, fluxing agents.'])).toEqual([
      '[Anti-flux] on the seam, [flux] beside it, fluxing agents.',
    ])
  })

  it('leave a line as it is where there is none', () => {
    expect(marked(['File it.'], WORDS)).toEqual([[{ text: 'File it.', word: '' }]])
    expect(marked(['File it.'], [])).toEqual([[{ text: 'File it.', word: '' }]])
  })
})
