<script lang="ts">
  import type { Snippet } from 'svelte'

  import type { Catalogue } from '$lib/api/client'
  import KeepingSays from './KeepingSays.svelte'
  import type { Sheet } from './sheet.svelte'

  /** What stands round every sheet: its heading, what is to be said of keeping it, and no typing meanwhile. */
  interface Props {
    sheet: Pick<Sheet<{ title: string }>, 'keeping' | 'keep' | 'job' | 'jobId'>
    catalogue: Catalogue
    /** How a new one is called, and a kept one before its number. */
    fresh: string
    kept: string
    children: Snippet
  }
  let { sheet, catalogue, fresh, kept, children }: Props = $props()
  const keeping = $derived(sheet.keeping)
  // a kept job is shown once it is read: what is typed before that would be laid over
  const unread = $derived(sheet.jobId !== null && !sheet.job)
</script>

{#if keeping.missing}
  <h1 class="text-title">There is no such job in this workshop.</h1>
{:else}
  <h1 class="sr-only">{sheet.job ? `${kept} ${sheet.job.number}` : fresh}</h1>
  <KeepingSays {keeping} {catalogue} onsave={() => sheet.keep()} />
  <div inert={keeping.busy || keeping.pending !== undefined || unread}>
    {@render children()}
  </div>
{/if}
