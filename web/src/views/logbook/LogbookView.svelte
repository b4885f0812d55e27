<script lang="ts">
  import { onMount } from 'svelte'

  import { outbox } from '$lib/outbox.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { capital } from '$lib/text'
  import Cuts from './Cuts.svelte'
  import Groups from './Groups.svelte'
  import Misses from './Misses.svelte'
  import { LearntRecord } from './record.svelte'
  import Rings from './Rings.svelte'

  const record = new LearntRecord()
  onMount(() => void record.read())
  $effect(() =>
    outbox.listen((item) => {
      if (item.where !== '/logbook') return false
      void record.settled()
      return true
    }),
  )
  const group = $derived(record.group)
  const learnt = $derived(record.learnt)
  const offered = $derived(record.groups.filter((one) => one.suggest && one !== group))
</script>

<h1 class="sr-only">The logbook</h1>
{#if learnt}
  {#if learnt.count && group}
    <div class="top">
      <div>
        <p class="text-order leading-[1.9]">
          <select
            class="word"
            aria-label="Which rings"
            value={group.group}
            onchange={(event) => (record.chosen = event.currentTarget.value)}
          >
            {#each record.groups as one (one.group)}
              <option value={one.group}>{one.group}</option>
            {/each}
          </select>
          by
          <select
            class="word"
            aria-label="Looked at by"
            value={record.by}
            onchange={(event) => void record.look(event.currentTarget.value)}
          >
            {#each learnt.views as view (view.key)}
              <option value={view.key}>{view.title}</option>
            {/each}
          </select>: {group.n} of them{group.set_aside ? `, ${group.set_aside} set aside` : ''}.
        </p>
        <p class="figure lead" data-testid="learnt-lead">{group.lead}</p>
        <p class="mt-3 text-lead">
          {group.between}
          {#if group.in_force_mm && learnt.since[group.group]}
            In force since {learnt.since[group.group]}.
          {/if}
        </p>
        {#if group.suggest && record.keyOf(group)}
          <p class="mt-1 text-lead" data-testid="offer">
            <b class="font-semibold">{capital(group.offer)}</b> from now on?
          </p>
          <button
            type="button"
            class="btn btn-primary mt-3"
            disabled={record.busy}
            onclick={() => void record.take(group)}>Yes, make it ours</button
          >
        {:else if group.says}
          <p class="text-soft mt-1">
            {record.keyOf(group)
              ? group.in_force_mm
                ? 'That is in every length that is cut: nothing to change.'
                : 'Nothing to change yet.'
              : 'Corrections go by profile and metal; this is another look at the same rings.'}
          </p>
        {/if}
        <Mistakes mistakes={record.mistakes} />
        {#each learnt.drift as one (one.says)}
          <p class="text-flame-text mt-3 text-lead" data-testid="drift">{one.says}</p>
        {/each}
        {#if learnt.scatter.says}
          <p class="mt-3">
            {learnt.scatter.says}
            {#if learnt.scatter.suggest}
              <button
                type="button"
                class="quiet"
                disabled={record.busy}
                onclick={() => void record.spread('truing', learnt.scatter.sd_mm)}
                >reckon with it</button
              >
            {/if}
          </p>
        {/if}
        {#if learnt.hand_says}
          <p class="mt-1">
            {learnt.hand_says}
            {#if learnt.hand.suggest}
              <button
                type="button"
                class="quiet"
                disabled={record.busy}
                onclick={() => void record.spread('cutting', learnt.hand.sd_mm)}
                >make it mine</button
              >
            {/if}
          </p>
        {/if}
        {#if learnt.cuts.length >= 5}
          <details class="mt-1">
            <summary class="quiet w-fit">my own cuts</summary>
            <Cuts cuts={learnt.cuts} sd={learnt.hand.sd_mm} />
          </details>
        {/if}
        {#each offered.slice(0, 3) as one (one.group)}
          <p class="mt-1">
            <button type="button" class="quiet" onclick={() => (record.chosen = one.group)}
              >{one.group} too</button
            >: {one.offer}
          </p>
        {/each}
      </div>
      <div class="min-w-0">
        <Misses dots={record.dots} {group} />
        {#if record.groups.length > 1}
          <Groups
            groups={record.groups}
            chosen={group.group}
            onchoose={(name) => (record.chosen = name)}
          />
        {/if}
      </div>
    </div>
    {#if learnt.dots.length < learnt.count}
      <p class="text-soft mt-2 text-small">
        The newest {learnt.dots.length} of {learnt.count} rings that count are drawn.
      </p>
    {/if}
  {:else}
    <p class="figure lead">No ring counts yet.</p>
    <p class="mt-3 max-w-[44rem] text-lead">
      A ring counts once its thickness, its length and its size on the round ring were read on its
      card, before it is brought to size. From five of a kind on this page says how far off they
      close here.
    </p>
  {/if}
  {#if learnt.waiting}
    <p class="text-soft mt-2" data-testid="waiting">
      {learnt.waiting}
      {learnt.waiting === 1 ? 'ring is' : 'rings are'} still being worked out.
    </p>
  {/if}
{:else}
  <Mistakes mistakes={record.mistakes} />
{/if}
<Rings />

<style>
  .top {
    display: grid;
    gap: 1rem 3rem;
  }
  .lead {
    font-size: clamp(38px, 4.3vw, 72px);
    line-height: 1.05;
  }
  @media (min-width: 1000px) {
    .top {
      grid-template-columns: minmax(24rem, 0.95fr) minmax(0, 1.05fr);
    }
  }
</style>
