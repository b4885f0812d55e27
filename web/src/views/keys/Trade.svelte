<script lang="ts">
  import { onMount } from 'svelte'

  import { glossary } from '$lib/glossary.svelte'
  import TradeWord from '$lib/parts/TradeWord.svelte'

  /** The words of the trade, found by what is typed. */
  let wanted = $state('')
  const found = $derived.by(() => {
    const said = wanted.trim().toLowerCase()
    const holds = (text: string) => text.toLowerCase().includes(said)
    const by = (one: { title: string; also: string }) => holds(one.title) || holds(one.also)
    const named = glossary.words.filter(by)
    return said && named.length
      ? named
      : glossary.words.filter((one) => !said || by(one) || holds(one.says))
  })

  onMount(() => void glossary.want())
</script>

{#if glossary.words.length}
  <section aria-label="Words of the trade" class="mt-7" data-testid="glossary">
    <p class="flex flex-wrap items-baseline gap-x-5">
      <label class="text-order" for="trade-word">Words of the trade</label>
      <input
        id="trade-word"
        class="input w-56 text-body"
        bind:value={wanted}
        placeholder="look one up"
        autocomplete="off"
      />
      <span class="text-soft text-small" role="status"
        >{found.length} of {glossary.words.length}</span
      >
    </p>
    <ul class="mt-3 grid gap-x-10 gap-y-3 lg:grid-cols-2">
      {#each found as word (word.key)}<li><TradeWord {word} /></li>{/each}
    </ul>
  </section>
{/if}
