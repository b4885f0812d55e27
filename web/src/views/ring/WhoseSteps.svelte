<script lang="ts">
  import type { Mistake, Schemas } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  /** Whose steps a ring is made by, where the shop has its own of its style; and ours, where they break it. */
  interface Props {
    style: string
    ways: Schemas['Preferences']
    by: string
    mistakes: Mistake[]
    onby: (by: string) => void
  }
  let { style, ways, by, mistakes, onby }: Props = $props()
  const wrong = $derived(mistakes.find((one) => one.field === 'steps_by'))
  const own = $derived(ways.own_steps.some((one) => one.style === style))
</script>

{#if wrong}
  <p class="mt-3" role="alert">
    <span class="text-flame-text"><Say text={wrong.message} /></span>
    <button type="button" class="quiet" onclick={() => onby('ours')}
      >make this ring by the usual steps</button
    >
  </p>
{:else if own || by === 'ours'}
  <p class="text-soft mt-3 text-small" data-testid="whose-steps">
    {by === 'ours' ? 'By the usual steps.' : 'By our own steps.'}
    <button type="button" class="quiet" onclick={() => onby(by === 'ours' ? '' : 'ours')}
      >{by === 'ours' ? 'by our own' : 'by the usual ones'}</button
    >
  </p>
{/if}
