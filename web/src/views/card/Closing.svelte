<script lang="ts">
  import type { Job, Mistake } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import type { Card } from './card.svelte'

  let { card, job, last }: { card: Card; job: Job; last: boolean } = $props()
  let without = $state('')
  let mistakes = $state.raw<Mistake[]>([])

  async function close(event?: SubmitEvent) {
    event?.preventDefault()
    mistakes = await card.close(true, without)
  }
</script>

{#if job.closed_at}
  <button type="button" class="quiet" onclick={() => void card.close(false)}
    >put it back on the bench</button
  >
{:else if last}
  <form onsubmit={close}>
    <button class="act text-[21px]">Take it off the bench</button>
    {#if mistakes.some((one) => one.field === 'without')}
      <span class="ml-3 text-[19px]"
        >without it, because <Word
          bind:value={without}
          label="Why without"
          field="without"
          placeholder="a reason"
          {mistakes}
        /></span
      >
    {/if}
    <Mistakes {mistakes} />
  </form>
{/if}
