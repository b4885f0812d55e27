<script lang="ts">
  import { clock } from '$lib/clock.svelte'
  import { device } from '$lib/device.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import { whenWords } from '$lib/text'

  /** What is sent at once shows nothing; what has waited for a moment is said. */
  const PATIENCE_MS = 1_500
  const MOST_REFUSED = 6
  const late = $derived(
    outbox.onTheirWay.filter((item) => clock.now.getTime() - item.at > PATIENCE_MS),
  )
  const said = $derived([...new Set(late.map((item) => item.says))])
  const onlyHere = $derived(outbox.onlyHere.filter((item) => late.includes(item) || item.refused))
  const arrived = $derived(outbox.delivered)
</script>

<div role="status" class="px-4 sm:px-9" data-testid="outbox">
  {#if late.length}
    <p class="text-flame-text mt-2 text-body">
      <span class="font-medium"
        >On its way since {whenWords(new Date(late[0]?.at ?? 0), clock.now)}:</span
      >
      {said.slice(0, 4).join('; ')}{said.length > 4 ? ` and ${said.length - 4} more` : ''}.
      {onlyHere.length
        ? 'It is tried again by itself.'
        : 'Kept on this device and tried again by itself.'}
      <button type="button" class="quiet" onclick={() => outbox.flush()}>try now</button>
    </p>
  {/if}
  {#if onlyHere.length}
    <p class="text-flame-text mt-2 text-body" data-testid="only-here">
      {onlyHere.length === 1 ? 'One of it is' : `${onlyHere.length} of it are`} in this tab alone: this
      device would not keep {onlyHere.length === 1 ? 'it' : 'them'}. Leave the tab open until {onlyHere.length ===
      1
        ? 'it is'
        : 'they are'} sent.
    </p>
  {/if}
  {#each outbox.refused.slice(0, MOST_REFUSED) as item (item.key)}
    <p class="text-flame-text mt-2 text-body">
      <span class="font-medium">Not taken: {item.says}.</span>
      {item.refused}
      <a class="quiet" href={item.where}>open it</a>
      <button type="button" class="quiet" onclick={() => outbox.retry(item.key)}>send again</button>
      <button type="button" class="quiet" onclick={() => outbox.drop(item.key)}>drop it</button>
    </p>
  {/each}
  {#if outbox.refused.length > MOST_REFUSED}
    <p class="text-flame-text mt-2 text-body">
      {outbox.refused.length - MOST_REFUSED} more were not taken: they follow once these are done.
    </p>
  {/if}
  {#if arrived && !late.length}
    <p class="text-blue mt-2 text-body">
      Arrived: {arrived.item.says}.
      <button type="button" class="quiet" onclick={() => (outbox.delivered = null)}>good</button>
    </p>
  {/if}
  {#if device.full}
    <p class="text-flame-text mt-2 text-body">
      This device has no room to keep what you type: do not close the tab before it is sent.
    </p>
  {/if}
</div>
