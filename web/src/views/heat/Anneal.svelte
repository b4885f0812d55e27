<script lang="ts">
  import { untrack } from 'svelte'

  import type { Job, Step } from '$lib/api/client'
  import { theme } from '$lib/theme.svelte'
  import type { Card } from '../card/card.svelte'
  import { Opened } from '../joint/opened.svelte'

  let { card, job, step }: { card: Card; job: Job; step: Step } = $props()
  const opened = untrack(() => new Opened(job, step.key, card))
  $effect(() => {
    if (job.done) untrack(() => void opened.read())
  })
  const GAP = ' '
  const view = $derived(opened.sheet?.anneal)
  const inside = (from: number, i: number) => {
    const next = view?.strip[i + 1]?.from_c ?? Infinity
    return !!view && from <= view.high_c && next > view.low_c
  }
</script>

{#if view}
  <section aria-label="The heat of annealing" class="mt-5" data-testid="anneal">
    <p class="text-lead">
      {view.glow[0]?.toUpperCase()}{view.glow.slice(1)}, {view.range_text} °C. {view.flux_cue}
    </p>
    <ol class="strip" style:--count={view.strip.length}>
      {#each view.strip as glow, i (glow.key)}
        <li class={inside(glow.from_c, i) ? 'wanted' : ''}>
          <span class="swatch" style:background={theme.dim ? glow.dim : glow.paper}></span>
          <span class="text-small">{glow.title}{GAP}</span>{#if glow.from_c > 0}<span
              class="text-soft text-small">from {glow.from_c.toFixed(0)}</span
            >{/if}
        </li>
      {/each}
    </ol>
    <p class="text-flame-text mt-2 text-body">{view.too_hot}</p>
    <p class="text-soft mt-1 text-body">{view.heated}</p>
  </section>
{/if}

<style>
  .strip {
    display: grid;
    grid-template-columns: repeat(var(--count), minmax(0, 1fr));
    gap: 4px;
    margin-top: 0.5rem;
    line-height: 1.2;
  }
  .swatch {
    display: block;
    height: 22px;
    margin-bottom: 4px;
    border-bottom: 3px solid transparent;
  }
  .wanted .swatch {
    border-color: var(--color-primary);
  }
  .wanted {
    font-weight: 500;
  }
  @media (max-width: 640px) {
    .strip {
      grid-template-columns: repeat(2, minmax(0, 1fr));
    }
  }
</style>
