<script lang="ts">
  import type { RingPlan, Schemas } from '$lib/api/client'
  import Figure from '$lib/parts/Figure.svelte'
  import SectionDrawing from '$lib/parts/SectionDrawing.svelte'

  interface Props {
    plan: RingPlan
    blank: Schemas['Blank']
    /** Where the style is more than a round, its ring comes before its section. */
    ringFirst: boolean
    perMm: number | undefined
    stale: boolean
  }
  let { plan, blank, ringFirst, perMm, stale }: Props = $props()
  const family = $derived(plan.metal.family)
</script>

{#snippet finished()}
  <div class="mt-1 mb-4">
    <Figure
      drawing={plan.ring}
      {family}
      label={`The finished ring, ${plan.title}, looked through.`}
      width={232}
      height={190}
      {perMm}
      {stale}
    />
  </div>
{/snippet}

{#if ringFirst}{@render finished()}{/if}
<SectionDrawing
  section={blank.section}
  {family}
  words={`${plan.metal.title} ${blank.stock}`}
  {stale}
/>
{#if !ringFirst}{@render finished()}{/if}
{#if plan.across}
  <div class="mt-4">
    <Figure
      drawing={plan.across}
      {family}
      label="A cut across it."
      width={232}
      height={80}
      {perMm}
      {stale}
    />
  </div>
{/if}
