<script lang="ts">
  import type { Mistake } from '$lib/api/client'
  import { mistakeId } from './mistakes'

  let { mistakes }: { mistakes: Mistake[] } = $props()
</script>

<div aria-live="polite">
  {#each mistakes as mistake (mistake.field + mistake.message)}
    <p id={mistakeId(mistake.field)} class="text-flame-text mt-1 leading-snug">
      <span class="font-medium">{mistake.message}</span>
      {mistake.hint}
    </p>
  {/each}
</div>
