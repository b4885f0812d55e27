<script lang="ts">
  import type { Catalogue, Mistake } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { chosenKey, countKey, entryFields, isAsked, type StyleSpec, type WordSpec } from './order'
  import StockWords from './StockWords.svelte'

  interface Props {
    fields: Record<string, string>
    style: StyleSpec
    catalogue: Catalogue
    mistakes: Mistake[]
  }
  let { fields = $bindable(), style, catalogue, mistakes }: Props = $props()

  const asked = $derived(style.words.filter((word) => isAsked(word, fields)))
  const partOf = (word: WordSpec) =>
    word.parts.find((part) => part.field === fields[chosenKey(word)])
  const places = (word: WordSpec) =>
    Array.from({ length: Number(fields[countKey(word)] ?? '1') }, (_, i) => i)
  const ways = (word: WordSpec) =>
    word.parts.map((part) => ({ key: part.field, title: part.before || part.label }))

  const GAP = ' '
  const clings = (text: string) => /^[,;°]/.test(text)
  /** The words after a field, with a space before them unless they cling to it. */
  const after = (text: string) => (text && !clings(text) ? GAP + text : text)

  function more(word: WordSpec) {
    const count = Number(fields[countKey(word)] ?? '1')
    fields = { ...fields, ...entryFields(word, count), [countKey(word)]: String(count + 1) }
  }
  function fewer(word: WordSpec) {
    fields = { ...fields, [countKey(word)]: String(Number(fields[countKey(word)] ?? '2') - 1) }
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

{#each asked as word (word.field + word.label)}{clings(word.before)
    ? ''
    : GAP}{word.before}{GAP}{#if word.kind === 'choice' || word.kind === 'metal'}<Choose
      bind:value={() => fields[word.field] ?? '', (v) => (fields[word.field] = v)}
      label={word.label}
      field={word.field}
      choices={word.kind === 'metal' ? catalogue.metals : word.choices}
      {mistakes}
    />{after(word.after)}{:else if word.kind === 'stock'}<StockWords
      bind:fields
      path={word.field}
      label={word.label}
      {catalogue}
      {mistakes}
    />{after(word.after)}{:else if word.kind === 'one-of'}{@const part = partOf(word)}<Choose
      bind:value={() => fields[chosenKey(word)] ?? '', (v) => (fields[chosenKey(word)] = v)}
      label={word.label}
      field={`${word.label} choice`}
      choices={ways(word)}
      {mistakes}
    />{#if part}{GAP}{@render typed(
        part.field,
        part,
        part.label,
      )}{/if}{:else if word.kind === 'list'}{#each places(word) as place (place)}{place
        ? '; then '
        : ''}{#each word.parts.filter( (one) => isAsked(one, fields) ) as part (part.field)}{@const path = `${word.field}.${place}.${part.field}`}{part.before}{GAP}{#if part.kind === 'stock'}<StockWords
            bind:fields
            {path}
            label={`${part.label} ${place + 1}`}
            {catalogue}
            {mistakes}
          />{:else}{@render typed(path, part, `${part.label} ${place + 1}`)}{/if}{/each}{/each}<span
      class="text-note whitespace-nowrap"
      >{#if places(word).length < word.most}{GAP}<button
          type="button"
          class="quiet"
          onclick={() => more(word)}>and another</button
        >{/if}{#if places(word).length > word.least}{GAP}<button
          type="button"
          class="quiet ml-3"
          onclick={() => fewer(word)}>one fewer</button
        >{/if}</span
    >{:else}{@render typed(word.field, word, word.label)}{/if}{/each}
