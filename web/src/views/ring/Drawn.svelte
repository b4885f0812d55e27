<script lang="ts">
  import type { Catalogue, RingPlan, Schemas } from '$lib/api/client'
  import Figure from '$lib/parts/Figure.svelte'
  import SectionDrawing from '$lib/parts/SectionDrawing.svelte'

  interface Props {
    catalogue: Catalogue
    plan: RingPlan
    blank: Schemas['Blank']
    /** Where the style is more than a round, its ring comes before its section. */
    ringFirst: boolean
    perMm: number | undefined
    stale: boolean
  }
  let { catalogue, plan, blank, ringFirst, perMm, stale }: Props = $props()
  const metal = $derived(catalogue.metals.find((one) => one.key === blank.metal) ?? plan.metal)
  const family = $derived(metal.family)
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

{#if blank.view}
  <div class="mt-1 mb-4">
    <Figure
      drawing={blank.view}
      {family}
      label={`The ${blank.title}, as it will be.`}
      width={232}
      height={170}
      {perMm}
      {stale}
    />
  </div>
{:else if ringFirst}{@render finished()}{/if}
<SectionDrawing section={blank.section} {family} words={`${metal.title} ${blank.stock}`} {stale} />
{#if !ringFirst && !blank.view}{@render finished()}{/if}
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
