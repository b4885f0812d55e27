/** The words of a practice, and the request behind them. */
import type { Job, PracticeOrder, Schemas } from '$lib/api/client'
import { onSheet } from '../sheet/labels'
import {
  asTyped,
  freshWords,
  keptWords,
  putWord,
  wordFields,
  type Asked,
  type Data,
  type Fields,
  type Words,
  type WordSpec,
} from '../sheet/order'

type Sentences = Pick<Schemas['Catalogue'], 'sentences' | 'profiles'>

/** The words of its sentence, one paragraph after the other. */
export function wordsOf({ sentences }: Sentences): WordSpec[] {
  return (sentences.practice ?? []).flat()
}

function begun(catalogue: Sentences): Fields {
  return Object.assign({}, ...wordsOf(catalogue).map(wordFields)) as Fields
}

/** What a new sheet begins with. */
export function first(catalogue: Sentences): Words {
  return freshWords(begun(catalogue))
}

/** The request behind the words; what is left empty is as usual for what is practised. */
export function toOrder(words: Words, around: Asked & { catalogue: Sentences }): PracticeOrder {
  const order: Data = {}
  for (const word of wordsOf(around.catalogue)) putWord(order, word, words.fields, around.catalogue)
  return Object.assign(order, asTyped(words, around)) as unknown as PracticeOrder
}

/** The words of a kept practice, to change it. */
export function fromJob(job: Job, due: string, catalogue: Sentences): Words {
  const empty = Object.keys(begun(catalogue)).map((path) => [path, ''])
  return keptWords(job, due, '', { ...(Object.fromEntries(empty) as Fields), ...job.fields })
}

/** The labels of everything on this sheet. */
export function labelsOf({ labels }: Pick<Schemas['Catalogue'], 'labels'>): Fields {
  return onSheet(labels.practice ?? {})
}
