<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { session } from '$lib/session.svelte'

  /** What the ticks and the timers of this shop taught of minutes, beside what was planned. */
  let rows = $state.raw<Schemas['LearntRow'][] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  onMount(async () => {
    const answer = await ask(api.GET('/api/day/minutes'))
    rows = answer?.data ?? null
    mistakes = answer?.problem?.errors ?? []
  })
  const family = (key: string) =>
    session.catalogue?.families.find((one) => one.key === key)?.title ?? key
</script>

<section class="mt-8" aria-label="Minutes that were learnt" data-testid="learnt-minutes">
  <h3 class="text-lead">What your own ticks and timers say</h3>
  <Mistakes {mistakes} />
  {#if rows?.length}
    <table class="mt-2 text-body">
      <thead>
        <tr class="text-soft text-left text-small">
          <th>step</th><th>metals</th><th>yours</th><th>planned</th><th>from</th>
        </tr>
      </thead>
      <tbody>
        {#each rows as row (row.key + row.family + row.hands)}
          <tr class="border-hairline border-t">
            <td>{row.key.replaceAll('-', ' ')}{row.hands ? '' : ', its wait'}</td>
            <td>{family(row.family)}</td>
            <td class="font-semibold">{row.minutes} min</td>
            <td class="text-soft">{row.planned} min</td>
            <td class="text-soft">{row.times} times</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="text-soft text-small mt-2">
      {session.who?.ways.learn_minutes
        ? 'The plan of the day reckons with yours; a row of your own above goes before both.'
        : 'The plan of the day reckons with the table’s: said among the ways of the day.'}
    </p>
  {:else if rows}
    <p class="text-soft mt-2 text-body">
      Nothing yet: a step’s minutes are known after five ticks that were made as it ended.
    </p>
  {/if}
</section>

<style>
  th,
  td {
    padding: 0.3rem 1.4rem 0.3rem 0;
    font-weight: inherit;
  }
</style>
