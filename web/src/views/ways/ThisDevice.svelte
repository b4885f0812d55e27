<script lang="ts">
  import { awakeAble } from '$lib/awake'
  import { offline } from '$lib/offline.svelte'
</script>

<section aria-labelledby="this-device" class="mt-8" data-testid="this-device">
  <h2 id="this-device" class="text-lead font-medium">This device</h2>
  {#if offline.able}
    <p class="mt-2 max-w-[46rem] text-body">
      Where the records do not answer, the bench, the cards and sheets that you had open stay usable
      here for twelve hours, without prices and lists of customers. Sign out, and they are gone.
      Your browser can install the application from its own menu.
    </p>
  {:else}
    <p class="text-flame-text mt-2 max-w-[46rem] text-body">
      This page came over plain http, so the browser lets it keep nothing and hold no screen:
      working without an answer, and the screen that stays awake at a card, are off. Over https, or
      on the machine itself, both work.
    </p>
  {/if}
  {#if offline.able && !awakeAble}
    <p class="text-soft mt-2 max-w-[46rem] text-body">This browser cannot keep the screen awake.</p>
  {/if}
</section>
