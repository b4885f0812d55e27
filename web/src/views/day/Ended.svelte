<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { pulse } from '$lib/pulse.svelte'
  import { session } from '$lib/session.svelte'
  import { softSound } from '$lib/soft-sound'
  import { Hands } from './hands.svelte'

  /** Waits that are over: a mark on every screen, which ring it is, and what is done about it. */
  const most = 3
  const LONGER_MIN = 5
  const hands = new Hands()
  let heard = new Set<string>()
  const mark = (one: Schemas['Timer']) => `${one.id} ${one.ends_at}`
  const shown = $derived(pulse.ended.slice(0, most))
  const SAYS: Record<string, string> = {
    pickle: 'Out of the pickle now',
    tumble: 'Out of the tumbler now',
    glue: 'The glue has cured',
    solder: 'Cool now',
    anneal: 'Cool now',
  }

  $effect(() => {
    const fresh = pulse.ended.filter((one) => !heard.has(mark(one)))
    if (!fresh.length) return
    // what was over before this page was opened is told, and not sounded
    const old = heard.size === 0 && fresh.every((one) => pulse.left(one) < -5_000)
    heard = new Set([...heard, ...fresh.map(mark)])
    if (!old && session.who?.ways.end_sound) softSound()
  })
</script>

{#if shown.length || hands.mistakes.length}
  <div class="ended" role="status" data-testid="ended">
    {#each shown as one (one.id)}
      <p class="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <a href={`/job/${one.job_id}`} class="font-medium"
          >{SAYS[one.kind] ?? 'It has waited long enough'}: {one.name}</a
        >
        <button
          type="button"
          class="quiet"
          aria-label={`seen to: ${one.name}`}
          onclick={() => void hands.answer(one, null)}>seen to</button
        >
        <button
          type="button"
          class="quiet"
          aria-label={`${LONGER_MIN} min more: ${one.name}`}
          onclick={() => void hands.answer(one, LONGER_MIN)}>{LONGER_MIN} min more</button
        >
      </p>
    {/each}
    {#if pulse.ended.length > most}
      <p><a href="/">and {pulse.ended.length - most} more, on the bench</a></p>
    {/if}
    <Mistakes mistakes={hands.mistakes} />
  </div>
{/if}

<style>
  .ended {
    border-left: 6px solid var(--flame);
    margin: 0.8rem 0 0 1rem;
    padding: 0.2rem 0 0.2rem 0.8rem;
    color: var(--flame-text);
  }
  .ended a,
  .ended button {
    display: inline-block;
    min-height: 28px; /* for dirty hands */
    padding: 2px 0;
  }
  @media (min-width: 640px) {
    .ended {
      margin-left: 2.25rem;
    }
  }
</style>
