<script lang="ts">
  import { pieces } from '$lib/text'

  let { text, strong = '' }: { text: string; strong?: string } = $props()
  const parts = $derived(pieces(text, strong))
  const inner = $derived(strong ? pieces(strong) : [])
</script>

{#each parts as part, i (i)}{#if part.kind === 'fraction'}<span class="frac">{part.text}</span
    >{:else if part.kind === 'strong'}<strong class="font-semibold whitespace-nowrap"
      >{#each inner as piece, j (j)}{#if piece.kind === 'fraction'}<span class="frac"
            >{piece.text}</span
          >{:else}{piece.text}{/if}{/each}</strong
    >{:else}{part.text}{/if}{/each}
