<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'

  let { plan, stale = false }: { plan: Schemas['MillPlan']; stale?: boolean } = $props()
</script>

<div class={['mt-5 overflow-x-auto', stale && 'stale', 'eased']}>
  <table class="table" data-testid="passes">
    <caption class="text-left text-lead font-medium"
      >{plan.start_text} to {plan.target_text}{plan.profile_from_text
        ? `, into its rolls as ${plan.profile_from_text}`
        : ''}</caption
    >
    <thead>
      <tr>
        <th>pass</th>
        <th>rolls</th>
        <th>set to</th>
        <th>runs out to</th>
        <th>since the anneal</th>
      </tr>
    </thead>
    <tbody>
      {#each plan.passes as one (one.n)}
        {#if one.anneal_before}
          <tr class="text-flame-text">
            <td colspan="5" class="glow"
              >anneal: {plan.anneal.low_c.toFixed(0)} to {plan.anneal.high_c.toFixed(0)} °C, {plan
                .anneal.look}</td
            >
          </tr>
        {/if}
        <tr>
          <td class="num">{one.n}</td>
          <td class="text-soft">{one.rolls}</td>
          <td class="num"
            >{Math.abs(one.width_mm - one.thickness_mm) < 0.0005
              ? length(one.thickness_mm)
              : `${length(one.width_mm)} × ${length(one.thickness_mm)}`}</td
          >
          <td class="num">{one.length_mm === null ? '' : length(one.length_mm, 1)}</td>
          <td>
            <span class="bar" aria-hidden="true"
              ><span
                style:width={`${Math.min(100, (100 * one.area_reduction_since_anneal) / plan.anneal_at)}%`}
              ></span></span
            >
            <span class="text-soft text-note"
              >{(100 * one.area_reduction_since_anneal).toFixed(0)} %</span
            >
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
</div>

<style>
  td {
    white-space: nowrap;
  }
  .num {
    font-family: var(--font-figure);
    font-weight: 500;
    font-size: var(--text-lead);
  }
  .glow {
    border-top: 2px solid var(--flame);
    padding-top: 0.35rem;
    white-space: normal;
  }
  .bar {
    display: inline-block;
    width: 90px;
    height: 8px;
    border-bottom: 1px solid var(--hairline);
    margin-right: 0.6rem;
  }
  .bar span {
    display: block;
    height: 7px;
    background: var(--color-primary);
  }
</style>
