<script lang="ts" generics="T">
  import type { Draft } from '$lib/draft.svelte'
  import { clock } from '$lib/clock.svelte'
  import { whenWords } from '$lib/text'

  let { draft }: { draft: Draft<T> } = $props()
  $effect(() => {
    if (!draft.ready) return
    const look = (event?: StorageEvent) => {
      if (!event?.key || event.key.startsWith('draft|')) void draft.lookAround()
    }
    look()
    window.addEventListener('storage', look)
    return () => window.removeEventListener('storage', look)
  })
</script>

{#if draft.since}
  <p class="text-soft text-small" role="status" data-testid="picked-up">
    Picked up as you left it {whenWords(new Date(draft.since), clock.now)}.
    <button type="button" class="quiet" onclick={() => draft.drop()}>throw it away</button>
  </p>
{/if}
{#if draft.elsewhere}
  <p class="text-flame-text text-small" role="status" data-testid="elsewhere">
    Being written in another tab too: what is kept last there or here is asked about, field by
    field.
  </p>
{/if}
{#if draft.others.length}
  <p class="text-soft text-small">
    {draft.others.length === 1 ? 'Another one' : `${draft.others.length} others`} of this sheet
    {draft.others.length === 1 ? 'is' : 'are'} unfinished:
    <button type="button" class="quiet" onclick={() => draft.open(draft.others[0] ?? '')}
      >take it up</button
    >
  </p>
{/if}
