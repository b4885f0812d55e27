<script lang="ts" generics="T">
  import type { Draft } from '$lib/draft.svelte'
  import { clock } from '$lib/clock.svelte'
  import { whenWords } from '$lib/text'

  let { draft }: { draft: Draft<T> } = $props()
</script>

{#if draft.since}
  <p class="text-soft text-small" role="status" data-testid="picked-up">
    Picked up as you left it {whenWords(new Date(draft.since), clock.now)}.
    <button type="button" class="quiet" onclick={() => draft.drop()}>throw it away</button>
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
