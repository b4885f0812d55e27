<script lang="ts">
  import { kept } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { offline } from '$lib/offline.svelte'
  import { whenWords } from '$lib/text'
</script>

<div role="status" class="px-4 sm:px-9">
  {#if kept.from !== null}
    <p class="text-flame-text mt-2 text-body" data-testid="kept">
      <span class="font-medium">The records do not answer.</span> This is as it was {whenWords(
        new Date(kept.from),
        clock.now,
      )}, kept on this device; what you do waits here until it can be sent.
    </p>
  {/if}
  {#if offline.newer}
    <p class="text-blue mt-2 text-body" data-testid="newer">
      A new version is here.
      <button type="button" class="quiet" onclick={() => offline.take()}>load it</button>
      What you typed stays.
    </p>
  {/if}
</div>
