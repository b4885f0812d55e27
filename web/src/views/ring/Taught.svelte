<script lang="ts">
  import { onMount } from 'svelte'

  import type { RingPlan } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { LearntRecord } from '../logbook/record.svelte'

  /** What the shop's own rings have taught of this stock and metal, where it is sure enough to be offered. */
  let { plan }: { plan: RingPlan } = $props()
  const record = new LearntRecord()
  onMount(() => void record.read())
  const key = $derived(`${plan.section.profile}/${plan.metal.family}`)
  const group = $derived(record.groups.find((one) => record.keyOf(one) === key && one.suggest))
</script>

{#if group && plan.style !== 'adjustable'}
  <p class="mt-3" data-testid="taught">
    {group.found}:
    <button
      type="button"
      class="quiet"
      disabled={record.busy}
      onclick={() => void record.take(group)}>{group.offer}</button
    >
    from now on?
  </p>
{/if}
<Mistakes mistakes={record.mistakes} />
