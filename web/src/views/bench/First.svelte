<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Schemas } from '$lib/api/client'

  /** A workshop's first day: three things, each a minute. Nothing once they are done. */
  let done = $state.raw<Schemas['FirstOut'] | null>(null)
  onMount(async () => {
    const answer = await ask(api.GET('/api/first'))
    if (answer?.data) done = answer.data
  })
  const THINGS = [
    {
      key: 'ways',
      href: '/ways#lengths',
      title: 'How you say sizes and lengths',
      says: 'home scale, millimetres or inches; prices and hours can follow',
    },
    {
      key: 'gauge',
      href: '/gauges',
      title: 'The first gauge',
      says: 'your own mandrel at three marks: sizes are then what it really reads',
    },
    {
      key: 'ring',
      href: '/ring',
      title: 'The first ring',
      says: 'finger and stock: where to cut, why, and what to do next',
    },
  ] as const
</script>

{#if done && !(done.ways && done.gauge && done.ring)}
  {@const stands = done}
  <ol class="first mt-6" aria-label="First things" data-testid="first">
    {#each THINGS as one, i (one.key)}
      <li class:done={stands[one.key]}>
        <span class="figure mark" aria-hidden="true">{i + 1}</span>
        <span>
          <a class="quiet text-lead" href={one.href}>{one.title}</a>{#if stands[one.key]}<span
              class="text-soft text-body">, done</span
            >{/if}
          <span class="text-soft block text-body">{one.says}</span>
        </span>
      </li>
    {/each}
  </ol>
{/if}

<style>
  .first {
    max-width: 46rem;
  }
  li {
    display: grid;
    grid-template-columns: 3.2rem 1fr;
    align-items: baseline;
    padding: 0.7rem 0;
  }
  .mark {
    font-size: var(--text-title);
    color: var(--color-primary);
  }
  .done .mark {
    color: var(--soft);
  }
</style>
