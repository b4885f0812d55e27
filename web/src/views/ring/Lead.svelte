<script lang="ts">
  import type { RingPlan } from '$lib/api/client'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import Say from '$lib/parts/Say.svelte'

  interface Props {
    plan: RingPlan
    at: number
    stale: boolean
    onpick: (at: number) => void
  }
  let { plan, at, stale, onpick }: Props = $props()
  const blank = $derived(plan.blanks[at])
  const several = $derived(plan.blanks.length > 1)
</script>

{#if blank}
  <section aria-label="Cut length" class="lead min-w-0">
    <BigFigure
      figure={blank.cut_text}
      unit={blank.unit}
      label={several ? `cut length, ${blank.title}` : 'cut length'}
      {stale}
    />
    {#if several}
      <p class="mt-3 flex flex-wrap gap-x-6 text-body">
        {#each plan.blanks as one, i (one.name)}
          <button
            type="button"
            class={['pick', i === at && 'here']}
            aria-pressed={i === at}
            onclick={() => onpick(i)}
            >{one.title}{one.count > 1 ? ` × ${one.count}` : ''}
            <span class="font-semibold">{one.cut_text}</span></button
          >
        {/each}
      </p>
    {/if}
  </section>
  <div class={['says text-lead leading-[1.5]', stale && 'stale', 'eased']} aria-live="polite">
    <p>
      {#if blank.fraction}<Say text={`${blank.fraction}. `} />{/if}<Say
        text={plan.says[0] ?? ''}
        strong={plan.closing.text}
      />
    </p>
    <p class="text-blue"><Say text={plan.says[1] ?? ''} /></p>
    {#if blank.waits}<p class="text-flame-text">Planned until {blank.waits}.</p>{/if}
  </div>
{/if}

<style>
  .pick {
    cursor: pointer;
    border-bottom: 2px solid transparent;
  }
  .pick:hover {
    background: var(--wash);
  }
  .here {
    border-color: var(--color-primary);
    color: var(--color-primary);
  }
  @media (min-width: 1100px) {
    .lead {
      grid-area: lead;
    }
    .says {
      grid-area: says;
    }
  }
</style>
