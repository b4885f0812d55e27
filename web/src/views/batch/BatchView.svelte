<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'

  /** Several rings that came in: what they share, and whose piece could serve whose gap. */
  let found = $state.raw<Schemas['BatchOut'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  const name = (id: number) => found?.names[String(id)] ?? `job ${id}`

  onMount(async () => {
    const answer = await ask(api.GET('/api/batch'))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) found = answer.data
  })
</script>

<h1 class="text-title leading-tight">Rings to size, together</h1>
<Mistakes {mistakes} />
{#if found}
  {#if !found.batch.together.length}
    <p class="text-soft mt-2 text-lead">
      No ring is in to be sized. <a class="quiet" href="/resize">Take one in</a>.
    </p>
  {/if}
  <ul class="mt-4 max-w-[64rem]">
    {#each found.batch.together as one (one.ids.join())}
      <li class="row">
        <span class="font-semibold">{one.metal}</span>
        <span class="text-soft"><Say text={one.says} /></span>
        <span>
          {#each one.ids as id, i (id)}{i ? '; ' : ''}<a class="quiet" href={`/job/${id}`}
              >{name(id)}</a
            >{/each}
        </span>
      </li>
    {/each}
  </ul>
  {#if found.left_out}
    <p class="text-flame-text mt-2 text-note">
      {found.left_out} more are not shown here: these are the first by their due date.
    </p>
  {/if}
  {#if found.batch.swaps.length}
    <h2 class="mt-7 text-lead font-medium">Whose piece could serve whose gap</h2>
    <div class="overflow-x-auto">
      <table class="table mt-2">
        <thead>
          <tr>
            <th>comes out of</th>
            <th>piece</th>
            <th>could go into</th>
            <th>needs</th>
            <th>what then</th>
          </tr>
        </thead>
        <tbody>
          {#each found.batch.swaps as one (`${one.giver}-${one.taker}`)}
            <tr>
              <td><a class="quiet" href={`/job/${one.giver}`}>{name(one.giver)}</a></td>
              <td class="figure-cell">{length(one.piece_mm)}</td>
              <td><a class="quiet" href={`/job/${one.taker}`}>{name(one.taker)}</a></td>
              <td class="figure-cell">{length(one.need_mm)}</td>
              <td class={one.credited ? '' : 'text-soft'}>{one.says}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
{/if}

<style>
  .row {
    display: grid;
    grid-template-columns: 9rem 1fr 1fr;
    gap: 0.4rem 1.4rem;
    padding: 0.6rem 0;
    border-top: 1px solid var(--hairline);
    font-size: var(--text-body);
  }
  .figure-cell {
    font-family: var(--font-figure);
    font-weight: 500;
    font-size: var(--text-lead);
  }
  @media (max-width: 700px) {
    .row {
      grid-template-columns: 1fr;
    }
  }
</style>
