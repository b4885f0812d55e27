<script lang="ts">
  import { api, ask, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { length } from '$lib/length.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { whenWords } from '$lib/text'

  /** The metal of a job: where its blanks come from, and what it should have lost against what it weighs. */
  let { job }: { job: Job } = $props()
  let found = $state.raw<Schemas['JobMetal'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  const loss = $derived(found?.losses ?? null)

  $effect(() => {
    const params = { path: { job_id: job.id } }
    void ask(api.GET('/api/jobs/{job_id}/metal', { params })).then((answer) => {
      if (answer?.problem) mistakes = answer.problem.errors
      else if (answer) {
        found = answer.data
        mistakes = []
      }
    })
  })
</script>

<section aria-label="Its metal" class="mt-4 max-w-[62rem] text-body" data-testid="job-metal">
  {#if found}
    {#each found.cut as one (one.item_id + one.blank + one.at)}
      <p>
        {one.blank}
        {one.length_text} cut from <a class="quiet" href={`/drawer/${one.item_id}`}>{one.called}</a>
        <span class="text-soft"
          >{whenWords(one.at, clock.now)}{one.by ? `, ${one.by}` : ''}, {one.mass_g.toFixed(2)} g</span
        >
      </p>
    {/each}
    {#each found.solder as one (one.item_id)}
      <p>
        Solder from <a class="quiet" href={`/drawer/${one.item_id}`}>{one.called}</a>
        <span class="text-soft">{one.mass_g.toFixed(3)} g</span>
      </p>
    {/each}
    {#each found.wanted as one (one.blank)}
      <p>
        {one.title}
        {length(one.length_mm, 1)}:
        {#if one.there.length}from {one.there.slice(0, 4).join(', ')}.
          <a class="quiet" href="/drawer">Plan the cut</a>
        {:else}<span class="text-flame-text">its stock is not in the drawer</span>{/if}
      </p>
      <ul class="ml-5 text-note">
        {#each one.ways as way (way.key + way.ids.join())}
          <li><span class="font-medium">{way.title}</span>: <Say text={way.says} /></li>
        {/each}
      </ul>
    {/each}
    {#if loss}
      <ul class="mt-3" aria-label="What becomes of the metal">
        {#each loss.lines as line (line.key)}
          <li class="line">
            <span class="amount">{line.mass_g.toFixed(2)}</span><span>{line.title}</span>
          </li>
        {/each}
      </ul>
      <p class="line border-ink border-t-2">
        <span class="amount">{loss.should_g.toFixed(2)}</span>
        <span
          >g it should weigh{loss.weighs_g === null
            ? ''
            : `, it weighs ${loss.weighs_g.toFixed(2)}`}</span
        >
      </p>
      <p
        class={[
          'mt-1 text-lead',
          loss.verdict === 'look' && 'text-flame-text font-medium',
          loss.verdict === 'good' && 'text-blue',
        ]}
        data-testid="losses"
      >
        <Say text={loss.says} />
      </p>
    {/if}
  {/if}
  <Mistakes {mistakes} />
</section>

<style>
  .line {
    display: grid;
    grid-template-columns: 6rem 1fr;
    gap: 0.8rem;
    align-items: baseline;
    padding: 0.2rem 0;
  }
  .amount {
    font-family: var(--font-figure);
    font-weight: 500;
    font-size: var(--text-lead);
    text-align: right;
  }
</style>
