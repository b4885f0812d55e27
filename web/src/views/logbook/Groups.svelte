<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import { reachOf } from './misses'

  interface Props {
    groups: Schemas['LearntGroup'][]
    chosen: string
    onchoose: (group: string) => void
  }
  let { groups, chosen, onchoose }: Props = $props()
  const SHOWN = 6
  let all = $state(false)
  const rows = $derived(all ? groups : groups.slice(0, SHOWN))
  const reach = $derived(
    reachOf(
      [],
      groups.flatMap((one) => [one.low_mm, one.high_mm]),
    ),
  )
  const at = (mm: number) => 50 + (Math.max(-reach, Math.min(reach, mm)) / reach) * 50
  const signed = (mm: number) => `${mm < 0 ? '−' : '+'}${length(Math.abs(mm))}`
</script>

<ul aria-label="Side by side">
  {#each rows as one (one.group)}
    <li>
      <button
        type="button"
        class={['name', one.group === chosen && 'chosen']}
        aria-pressed={one.group === chosen}
        onclick={() => onchoose(one.group)}>{one.group}</button
      >
      <span class="n text-soft">{one.n}</span>
      <span class="bar" aria-hidden="true">
        <i class="zero"></i>
        <i class="reach" style:left={`${at(one.low_mm)}%`} style:right={`${100 - at(one.high_mm)}%`}
        ></i>
        <i class="mean" style:left={`${at(one.mean_mm)}%`}></i>
        {#if one.in_force_mm}<i class="force" style:left={`${at(one.in_force_mm)}%`}></i>{/if}
      </span>
      <span class="figures">
        {#if one.n}<b>{signed(one.mean_mm)}</b>
          <span class="text-soft">{signed(one.low_mm)} to {signed(one.high_mm)}</span>
        {:else}<span class="text-soft">none yet</span>{/if}
      </span>
    </li>
  {/each}
</ul>
{#if !all && groups.length > SHOWN}
  <button type="button" class="quiet mt-2" onclick={() => (all = true)}
    >{groups.length - SHOWN} more</button
  >
{/if}

<style>
  li {
    display: grid;
    grid-template-columns: minmax(8rem, 1fr) 2rem minmax(6rem, 1fr) 12.2rem;
    gap: 0 1rem;
    align-items: center;
    border-bottom: 1px solid var(--hairline);
    min-height: 40px;
  }
  .name {
    text-align: left;
    cursor: pointer;
    min-height: 40px;
  }
  .name.chosen {
    color: var(--color-blue);
    font-weight: 600;
  }
  .n {
    text-align: right;
  }
  .bar {
    position: relative;
    height: 24px;
  }
  .bar i {
    position: absolute;
    top: 0;
    bottom: 0;
  }
  .zero {
    left: 50%;
    width: 1.5px;
    background: var(--soft);
  }
  .reach {
    background: var(--wash);
    margin-block: 4px;
  }
  .mean {
    width: 3px;
    margin-left: -1px;
    background: var(--color-blue);
  }
  .force {
    width: 0;
    border-left: 1px dashed var(--color-blue);
  }
  .figures {
    white-space: nowrap;
  }
  .figures b {
    font-weight: 600;
    margin-right: 0.5rem;
  }
  @media (max-width: 700px) {
    li {
      grid-template-columns: minmax(0, 1fr) 2rem;
      padding-block: 4px;
    }
    .bar,
    .figures {
      grid-column: 1 / -1;
    }
  }
</style>
