<script lang="ts">
  import type { TradeWord } from '$lib/glossary'
  import Figure from './Figure.svelte'

  /** One word: what it is, what it is called elsewhere, and how it looks. */
  let { word }: { word: TradeWord } = $props()
</script>

<div class="flex flex-wrap items-center gap-x-5 gap-y-2">
  {#if word.drawing}
    <Figure drawing={word.drawing} family="silver" label={word.title} width={120} height={64} />
  {/if}
  <p class="max-w-[34rem] min-w-0 flex-1 basis-64 text-body">
    <span class="font-medium">{word.title}</span>: {word.says}
    {#if word.also}<span class="text-soft">Also called {word.also}.</span>{/if}
  </p>
</div>
