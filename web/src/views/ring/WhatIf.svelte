<script lang="ts">
  import type { RingPlan } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  let { plan, stale }: { plan: RingPlan; stale: boolean } = $props()
</script>

<section aria-label="What if" class={['mt-3', stale && 'stale']}>
  <ul class="flex flex-wrap gap-x-6 gap-y-1 text-small leading-snug">
    <li class="text-soft">What if:</li>
    {#each plan.what_if as slip (slip.key)}
      <li data-slip={slip.key} title={slip.why}>
        <span class="text-soft">{slip.title}</span>
        <span class="font-medium whitespace-nowrap"><Say text={slip.text} /></span>
      </li>
    {/each}
  </ul>
</section>
