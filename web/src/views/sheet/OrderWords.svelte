<script lang="ts">
  import type { Snippet } from 'svelte'

  import type { Catalogue, Mistake } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { withPlace } from './labels'
  import {
    askedParts,
    choose,
    chosenKey,
    countKey,
    entryFields,
    entryPath,
    isAsked,
    isSeen,
    places,
    type PartSpec,
    type WordSpec,
  } from './order'
  import StockWords from './StockWords.svelte'

  interface Props {
    fields: Record<string, string>
    words: WordSpec[]
    catalogue: Catalogue
    mistakes: Mistake[]
    /** What the plan says, for the words that are seen with it. */
    facts?: Set<string>
    /** What can be chosen from lists that are not the catalogue's. */
    lists?: Record<string, Choice[]>
    /** A word that is the sheet's own. */
    own?: Snippet<[WordSpec]>
  }
  interface Choice {
    key: string
    title: string
  }
  let {
    fields = $bindable(),
    words,
    catalogue,
    mistakes,
    facts = new Set(),
    lists = {},
    own,
  }: Props = $props()

  const asked = $derived(words.filter((word) => isAsked(word, fields) && isSeen(word, facts)))
  const partOf = (word: WordSpec) =>
    word.parts.find((part) => part.field === fields[chosenKey(word)])
  const count = (word: WordSpec) => Number(fields[countKey(word)] ?? '1')
  const ways = (word: WordSpec) =>
    word.parts.map((part) => ({ key: part.field, title: part.before || part.label }))
  const entries = (word: WordSpec) => places(word.field, fields, word.parts[0]?.field)
  const choices = (one: PartSpec) => {
    if (one.kind === 'metal') return catalogue.metals
    const listed = catalogue[one.listed as 'stones'] as Choice[] | undefined
    return one.listed ? (lists[one.listed] ?? listed ?? []) : one.choices
  }
  const grown = (word: WordSpec, place: number) => {
    const none = place || entries(word).length ? 'nothing more' : word.placeholder
    return [{ key: '', title: none }, ...choices(word.parts[0] ?? word)]
  }

  const GAP = ' '
  const clings = (text: string) => /^[,;.°]/.test(text)
  /** The words after a field, with a space before them unless they cling to it. */
  const after = (text: string) => (text && !clings(text) ? GAP + text : text)

  /** The words before a field, in the sentence; a word of the sheet's own may begin as it likes. */
  const joined = ({ before, kind }: WordSpec) =>
    !before ? (kind === 'own' ? '' : GAP) : `${clings(before) ? '' : GAP}${before}${GAP}`

  function more(word: WordSpec) {
    const place = count(word)
    fields = { ...fields, ...entryFields(word, place), [countKey(word)]: String(place + 1) }
  }
  function fewer(word: WordSpec) {
    fields = { ...fields, [countKey(word)]: String(count(word) - 1) }
  }
</script>

{#snippet typed(
  path: string,
  one: { label: string; placeholder: string; after: string },
  label: string,
)}
  {@const short = one.after.length <= 4}
  <span class={short ? 'whitespace-nowrap' : ''}
    ><Word
      bind:value={() => fields[path] ?? '', (v) => (fields[path] = v)}
      {label}
      field={path}
      placeholder={one.placeholder || '?'}
      {mistakes}
    />{after(one.after)}</span
  >
{/snippet}

{#snippet field(path: string, one: PartSpec, label: string)}{#if one.kind === 'stock'}<StockWords
      bind:fields
      {path}
      {label}
      {catalogue}
      {mistakes}
    />{after(one.after)}{:else if ['choice', 'metal', 'yes', 'flags'].includes(one.kind)}<Choose
      bind:value={() => fields[path] ?? '', (v) => (fields[path] = v)}
      {label}
      field={path}
      choices={choices(one)}
      {mistakes}
    />{after(one.after)}{:else}{@render typed(path, one, label)}{/if}{/snippet}

{#each asked as word (word.field + word.label)}{joined(
    word,
  )}{#if word.kind === 'own'}{@render own?.(word)}{:else if word.kind === 'one-of'}{@const part =
      partOf(word)}<Choose
      bind:value={() => fields[chosenKey(word)] ?? '', (v) => (fields[chosenKey(word)] = v)}
      label={word.label}
      field={`${word.label} choice`}
      choices={ways(word)}
      {mistakes}
    />{#if part}{GAP}{@render typed(
        part.field,
        part,
        part.label,
      )}{/if}{:else if word.kind === 'chosen'}{@const [first, ...rest] =
      word.parts}{#each [...entries(word), entries(word).length] as place (place)}{@const path =
        entryPath(word.field, place, first?.field ?? '')}<Choose
        bind:value={() => fields[path] ?? '', (v) => (fields = choose(word, fields, place, v))}
        label={withPlace(first?.label ?? '', place + 1)}
        field={path}
        choices={grown(word, place)}
        {mistakes}
      />{#if fields[path]}{after(
          first?.after ?? '',
        )}{#each rest.filter( (one) => isAsked(one, fields, `${word.field}.${place}`) ) as part (part.field)}{clings(
            part.before,
          )
            ? ''
            : GAP}{part.before}{GAP}{@render field(
            entryPath(word.field, place, part.field),
            part,
            withPlace(part.label, place + 1),
          )}{/each}{GAP}{/if}{/each}{:else if word.kind === 'list'}{#each [...Array(count(word)).keys()] as place (place)}{place
        ? '; then '
        : ''}{#each askedParts(word, fields, place) as part (part.field)}{part.before}{GAP}{@render field(
          entryPath(word.field, place, part.field),
          part,
          withPlace(part.label, place + 1),
        )}{/each}{/each}<span class="text-note whitespace-nowrap"
      >{#if count(word) < word.most}{GAP}<button
          type="button"
          class="quiet"
          onclick={() => more(word)}>and another</button
        >{/if}{#if count(word) > word.least}{GAP}<button
          type="button"
          class="quiet ml-3"
          onclick={() => fewer(word)}>one fewer</button
        >{/if}</span
    >{:else}{@render field(word.field, word, word.label)}{/if}{/each}
