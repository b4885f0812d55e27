<script lang="ts">
  import { onMount } from 'svelte'

  import { keys } from '$lib/keys.svelte'
  import Outside from '$lib/parts/Outside.svelte'
  import Trade from './Trade.svelte'

  let sheet: HTMLDialogElement | undefined = $state()
  onMount(() => sheet?.showModal())
</script>

<dialog
  bind:this={sheet}
  class="modal modal-bottom"
  aria-labelledby="keys-title"
  onclose={() => (keys.sheet = false)}
>
  <div class="modal-box border-t-2">
    <div class="flex items-baseline justify-between">
      <h2 id="keys-title" class="text-order">Keys</h2>
      <button type="button" class="quiet" onclick={() => sheet?.close()}>away</button>
    </div>
    <dl class="mt-3 grid max-w-[60rem] gap-x-10 gap-y-2 sm:grid-cols-2">
      {#each keys.all as key (key.key + key.says)}
        <div class="flex gap-4">
          <dt class="w-20 shrink-0 text-right"><kbd class="kbd">{key.shown}</kbd></dt>
          <dd>{key.says}</dd>
        </div>
      {/each}
    </dl>
    <p class="text-soft mt-5">
      They work outside a field; Escape leaves one. Tab walks the order word by word, arrow keys
      walk the ledger.
      <button type="button" class="quiet" onclick={() => keys.toggle()}
        >{keys.on ? 'Switch single keys off' : 'Switch single keys on'}</button
      >
    </p>
    <Trade />
  </div>
  <Outside onclose={() => sheet?.close()} />
</dialog>
