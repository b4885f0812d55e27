<script lang="ts">
  import { onMount } from 'svelte'

  import { marked } from '$lib/glossary'
  import { glossary } from '$lib/glossary.svelte'
  import Say from '$lib/parts/Say.svelte'
  import TradeWord from '$lib/parts/TradeWord.svelte'

  /** What a step says to do and to check; a word of the trade in it opens what it means, under its line. */
  let { todo, check }: { todo: string[]; check: string[] } = $props()
  let open = $state('')
  const lines = $derived(marked([...todo, ...check], glossary.words))
  const shown = $derived(glossary.of(open))

  /** One stop of the Tab key for all of them; the arrow keys walk from word to word. */
  const first = $derived.by(() => {
    const line = lines.findIndex((pieces) => pieces.some(({ word }) => word))
    return { line, piece: lines[line]?.findIndex(({ word }) => word) ?? -1 }
  })
  let all: HTMLElement
  function arrows(event: KeyboardEvent) {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (!by) return
    event.preventDefault()
    event.stopPropagation()
    const words = [...all.querySelectorAll<HTMLElement>('button.trade')]
    words[words.indexOf(event.currentTarget as HTMLElement) + by]?.focus()
  }

  onMount(() => void glossary.want())
</script>

{#snippet line(at: number)}{#each lines[at] ?? [] as piece, i (i)}{#if piece.word}<button
        type="button"
        class="trade"
        aria-expanded={open === piece.word}
        tabindex={at === first.line && i === first.piece ? 0 : -1}
        onkeydown={arrows}
        onclick={() => (open = open === piece.word ? '' : piece.word)}>{piece.text}</button
      >{:else}<Say text={piece.text} />{/if}{/each}{/snippet}
{#snippet meaning(at: number)}
  {#if shown && lines[at]?.some(({ word }) => word === open)}
    <div class="border-blue mt-1 mb-2 border-l-2 pl-4" role="note"><TradeWord word={shown} /></div>
  {/if}
{/snippet}

<div bind:this={all}>
  <ul class="mt-4 max-w-[52rem] space-y-2 text-order leading-[1.35]">
    {#each todo as text, i (i + text)}<li>{@render line(i)}{@render meaning(i)}</li>{/each}
  </ul>
  {#if check.length}
    <ul class="mt-4 max-w-[52rem] space-y-1 text-lead leading-[1.35]">
      {#each check as text, i (i + text)}
        <li>
          <span class="text-blue font-medium">Check:</span>
          {@render line(todo.length + i)}{@render meaning(todo.length + i)}
        </li>
      {/each}
    </ul>
  {/if}
</div>

<style>
  .trade {
    text-decoration: underline dotted 1px;
    text-decoration-color: var(--color-primary);
    text-underline-offset: 4px;
    cursor: help;
  }
  .trade[aria-expanded='true'] {
    background: var(--wash);
  }
</style>
