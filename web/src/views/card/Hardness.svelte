<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  /** How hard the metal is after a step: a bar that fills with work and is emptied by heat. */
  let { bars }: { bars: Schemas['Hardness'][] } = $props()
</script>

<ul class="mt-3" aria-label="Work-hardening" data-testid="hardness">
  {#each bars as one (one.piece)}
    <li class="flex flex-wrap items-center gap-x-4 text-body">
      {#if bars.length > 1}<span class="w-20">{one.piece}</span>{/if}
      <span class={['bar', one.due && 'due']} aria-hidden="true"
        ><span style:width={`${Math.min(100, 100 * one.filled)}%`}></span></span
      >
      <span class={one.due ? 'text-flame-text' : 'text-soft'}><Say text={one.says} /></span>
    </li>
  {/each}
</ul>

<style>
  .bar {
    width: 150px;
    height: 10px;
    border: 1px solid var(--color-base-content);
  }
  .bar span {
    display: block;
    height: 8px;
    background: var(--color-primary);
  }
  .due span {
    background: var(--flame);
  }
</style>
