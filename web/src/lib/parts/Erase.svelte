<script lang="ts">
  import type { Mistake } from '$lib/api/client'
  import Mistakes from './Mistakes.svelte'

  /** Erasing somebody: said what goes and what stays, and done only once that was read. */
  interface Props {
    who: string
    run: () => Promise<Mistake[]>
  }
  let { who, run }: Props = $props()
  let asked = $state(false)
  let busy = $state(false)
  let mistakes = $state.raw<Mistake[]>([])
  async function erase() {
    busy = true
    mistakes = await run()
    busy = false
    if (!mistakes.length) asked = false
  }
</script>

{#if asked}
  <div class="mt-3 max-w-[46rem] text-body" role="group" aria-label={`Erase ${who}`}>
    <p>
      <span class="text-flame-text font-medium">Erase {who}?</span> The name and the notes go everywhere,
      photographs too; figures, metal and sums stay. It cannot be taken back: only an older backup still
      has it.
    </p>
    <p class="mt-2 flex flex-wrap items-baseline gap-x-5">
      <button type="button" class="btn btn-primary" disabled={busy} onclick={() => void erase()}
        >Erase {who}</button
      >
      <button type="button" class="quiet" onclick={() => (asked = false)}>leave it</button>
    </p>
    <Mistakes {mistakes} />
  </div>
{:else}
  <button type="button" class="quiet text-note" onclick={() => (asked = true)}>erase {who}</button>
{/if}
