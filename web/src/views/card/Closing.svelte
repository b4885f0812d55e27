<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Job, Mistake } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import type { Card } from './card.svelte'

  let { card, job, last }: { card: Card; job: Job; last: boolean } = $props()
  let without = $state('')
  let mistakes = $state.raw<Mistake[]>([])
  const draft = new Draft(
    untrack(() => `job/${job.id}/without`),
    () => ({ without }),
    (typed) => ({ without } = typed),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  const asked = $derived(without !== '' || mistakes.some((one) => one.field === 'without'))

  async function close(event?: SubmitEvent) {
    event?.preventDefault()
    mistakes = await card.close(true, without, draft.slot)
  }
</script>

{#if job.closed_at}
  <button type="button" class="quiet" onclick={() => void card.close(false)}
    >put it back on the bench</button
  >
{:else if last}
  <form onsubmit={close}>
    <button class="btn btn-primary text-lead">Take it off the bench</button>
    {#if asked}
      <span class="ml-3 text-lead"
        >without it, because <Word
          bind:value={without}
          label="Why without"
          field="without"
          placeholder="a reason"
          {mistakes}
        /></span
      >
    {/if}
    <DraftSays {draft} />
    <Mistakes {mistakes} />
  </form>
{/if}
