<script lang="ts">
  import { length } from '$lib/length.svelte'
  import type { RingPlan } from '$lib/api/client'

  let { plan, stale }: { plan: RingPlan; stale: boolean } = $props()
  const spread = $derived(plan.closing.spread)
  const causes = $derived(
    [...spread.causes].filter((c) => c.sd_mm >= 0.005).sort((a, b) => b.sd_mm - a.sd_mm),
  )
</script>

<p class={['text-soft mt-2 text-small leading-snug', stale && 'stale']} data-testid="how-sure">
  Give or take {length(spread.sd_mm)} round{#if causes.length > 1}:{/if}
  {#each causes.length > 1 ? causes : [] as cause, i (cause.key)}{i ? ', ' : ''}<span
      title={cause.why}>{cause.title} {length(cause.sd_mm)}</span
    >{/each}; {spread.method}.
</p>
