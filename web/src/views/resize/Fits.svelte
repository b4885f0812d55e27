<script lang="ts">
  import type { ResizePlan } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  let { plan, onpick }: { plan: ResizePlan; onpick: (size: string) => void } = $props()
</script>

{#if plan.fits}
  <table class="table mt-4 text-note">
    <caption class="text-left font-medium">{plan.fits.title}</caption>
    <thead>
      <tr>
        {#each plan.fits.columns as one (one)}<th>{one}</th>{/each}
      </tr>
    </thead>
    <tbody>
      {#each plan.fits.rows as row (row.value)}
        <tr>
          {#each row.cells as cell, i (i)}
            <td>
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
