<script lang="ts">
  import { length } from '$lib/length.svelte'
  import type { RingPlan } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  interface Props {
    plan: RingPlan
    stale: boolean
    onfit: (field: string, value: string) => void
  }
  let { plan, stale, onfit }: Props = $props()
  const table = $derived(plan.fit_table)
</script>

<div class={['text-small leading-snug', stale && 'stale']}>
  {#if plan.figures.length}
    <ul aria-label="Figures of the style">
      {#each plan.figures as figure (figure.key)}
        <li class="figure-line" data-figure={figure.key}>
          <span class="value"><Say text={figure.text} /></span>
          <span>{figure.title}</span>
          <span class="text-soft"><Say text={figure.why} /></span>
        </li>
      {/each}
    </ul>
  {/if}
  {#each plan.thumbs as thumb (thumb.title)}
    <p class="mt-1" data-thumb>
      Rule of thumb, <span class="font-medium">{thumb.title}</span>: {length(thumb.thumb_mm, 1)}
      against {length(thumb.exact_mm, 1)}, <span class="text-soft">{thumb.says}</span>
    </p>
  {/each}
  {#if table}
    <table class="table mt-2 text-small" aria-label={table.title}>
      <caption class="text-soft text-left">{table.title}</caption>
      <thead>
        <tr
          >{#each table.columns as column (column)}<th scope="col">{column}</th>{/each}</tr
        >
      </thead>
      <tbody>
        {#each table.rows as row (row.value)}
          <tr class={row.chosen ? 'bg-wash' : ''}>
            {#each row.cells as cell, i (i)}
              <td>
                {#if i === 0}
                  <button
                    type="button"
                    class="quiet"
                    aria-pressed={row.chosen}
                    onclick={() => onfit(row.field, row.value)}>{cell}</button
                  >
                {:else}<Say text={cell} />{/if}
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
  {#if plan.joints.length > 1}
    <ol class="mt-2" aria-label="Joints in their order">
      {#each plan.joints as joint (joint.key)}
        <li class="figure-line">
          <span class="value">{joint.round}</span>
          <span class="font-medium">{joint.solder_title}</span>
          <span class="text-soft">{joint.title}</span>
        </li>
      {/each}
    </ol>
  {/if}
  {#each plan.warnings as warning (warning)}
    <p class="text-flame-text mt-2 font-medium">{warning}</p>
  {/each}
</div>

<style>
  .figure-line {
    display: grid;
    grid-template-columns: 4.6rem 7.4rem 1fr;
    gap: 0.6rem;
    padding: 2px 0;
    align-items: baseline;
  }
  .value {
    font-family: var(--font-figure);
    font-weight: 600;
    font-size: var(--text-body);
    text-align: right;
  }
  th,
  td {
    padding-block: 2px;
  }
</style>
