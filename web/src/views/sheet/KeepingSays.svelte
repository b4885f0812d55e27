<script lang="ts">
  import type { Catalogue } from '$lib/api/client'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import type { Keeping } from './keeping.svelte'
  import { shown } from './labels'

  /** What is to be said of keeping a sheet: a draft picked up, theirs beside mine, that it is still on its way. */
  interface Props {
    keeping: Keeping
    catalogue: Catalogue
    onsave: () => Promise<void>
  }
  let { keeping, catalogue, onsave }: Props = $props()
</script>

<DraftSays draft={keeping.draft} />
<Theirs editing={keeping} shown={(field, value) => shown(field, value, catalogue)} {onsave} />
{#if keeping.pending}
  <p class="text-flame-text mb-3 text-body" data-testid="pending">
    This sheet is on its way and arrives by itself.
    <button type="button" class="quiet" onclick={() => keeping.takeBack()}
      >take it back to change it</button
    >
  </p>
{/if}
