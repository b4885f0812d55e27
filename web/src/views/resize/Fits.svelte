<script lang="ts">
  import type { ResizePlan } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  let { plan, onpick }: { plan: ResizePlan; onpick: (size: string) => void } = $props()
</script>

{#if plan.fits}
  <table class="mt-4 text-note">
    <caption class="text-left font-medium">{plan.fits.title}</caption>
    <thead>
      <tr class="text-soft text-left">
        {#each plan.fits.columns as one (one)}<th class="pr-5 font-normal">{one}</th>{/each}
      </tr>
    </thead>
    <tbody>
      {#each plan.fits.rows as row (row.value)}
        <tr>
          {#each row.cells as cell, i (i)}
            <td class="pr-5">
              {#if i === 1}<button type="button" class="quiet" onclick={() => onpick(row.value)}
                  ><Say text={cell} /></button
                >{:else}<Say text={cell} />{/if}
            </td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/if}
