<script lang="ts">
  import type { RingPlan } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  let { plan, stale }: { plan: RingPlan; stale: boolean } = $props()
  const others = $derived(plan.rules.filter((rule) => !rule.chosen))
</script>

<div class={['mt-3 text-small leading-snug', stale && 'stale']}>
  <ul aria-label="What the other rules give, formed">
    {#each others as rule (rule.key)}
      <li class="flex gap-2 py-[2px]" data-rule={rule.key}>
        <span class="w-36 shrink-0">{rule.title}</span>
        <span class="w-11 shrink-0 text-right font-medium">{rule.text}</span>
        <span class="text-soft"><Say text={rule.off_text} /></span>
      </li>
    {/each}
  </ul>
  <p class="text-soft mt-1">{plan.sensitivity.says}</p>
</div>
