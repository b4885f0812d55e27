<script lang="ts">
  import type { Catalogue, ResizePlan } from '$lib/api/client'
  import Figure from '$lib/parts/Figure.svelte'
  import Ledger from '$lib/parts/Ledger.svelte'

  interface Props {
    plan: ResizePlan
    catalogue: Catalogue
    stale: boolean
  }
  let { plan, catalogue, stale }: Props = $props()
  let lit = $state('')
  const parts = $derived(plan.blanks.filter((blank) => blank.role === 'part'))
  const metalOf = (key: string) => catalogue.metals.find((one) => one.key === key) ?? plan.metal
</script>

{#each parts as part (part.name)}
  {@const metal = metalOf(part.metal)}
  <section class="mt-6" aria-label={part.title}>
    <h2 class="text-lead font-medium">
      {part.title}, {part.stock}{part.count > 1 ? `, ${part.count} of them` : ''}
    </h2>
    <div class="mt-1 flex flex-wrap items-start gap-x-8 gap-y-3">
      <p class={['figure text-title', stale && 'stale', 'eased']}>
        {part.cut_text}<span class="text-soft ml-2 text-body">{part.unit} to cut</span>
      </p>
      {#if part.view}
        <Figure
          drawing={part.view}
          family={metal.family}
          label={`The ${part.title}, as it will be.`}
          width={150}
          height={110}
          {stale}
        />
      {/if}
    </div>
    <Ledger
      blank={part}
      mass={`${part.mass_g.toFixed(2)} g of ${metal.title}`}
      label={`Ledger of the ${part.title}`}
      bind:lit
      {stale}
    />
  </section>
{/each}
