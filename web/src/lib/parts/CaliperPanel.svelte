<script lang="ts">
  import { caliper } from '$lib/caliper.svelte'
  import { session } from '$lib/session.svelte'

  const inches = $derived(session.who?.ways?.caliper_units === 'in')
  let jaws = $state(1.8)
  let lost = $state(false)
  const step = $derived(inches ? 0.0005 : 0.01)
  const shown = $derived(inches ? jaws.toFixed(4) : jaws.toFixed(2))
  const WIDTH = 300
  const open = $derived(Math.min(jaws * (inches ? 25.4 : 1), 30) * 7)
</script>

<aside
  class="bg-paper fixed right-0 bottom-0 z-30 border-t-2 border-l-2 p-4"
  aria-label="Simulated caliper"
  data-testid="caliper"
>
  <div class="flex items-baseline justify-between gap-6">
    <h2 class="font-medium">Simulated caliper</h2>
    <button type="button" class="quiet" onclick={() => (caliper.panel = false)}>away</button>
  </div>
  <svg width={WIDTH} height="64" viewBox={`0 0 ${WIDTH} 64`} aria-hidden="true" class="mt-2">
    <rect x="6" y="8" width={WIDTH - 12} height="12" class="beam" />
    <path d="M30 20H50V60L38 46V34H30Z" class="jaw" />
    <path d={`M${50 + open} 20H${70 + open}V34H${62 + open}V46L${50 + open} 60Z`} class="jaw" />
  </svg>
  <label class="mt-1 block"
    >jaws <input
      type="range"
      min="0"
      max={inches ? 1.2 : 30}
      {step}
      bind:value={jaws}
      class="w-44 align-middle"
    />
  </label>
  <form
    class="mt-2 flex items-baseline gap-3"
    onsubmit={(event) => {
      event.preventDefault()
      lost = !caliper.send(shown)
    }}
  >
    <span class="figure text-title">{shown}</span><span class="text-soft"
      >{inches ? 'in' : 'mm'}</span
    >
    <button class="btn btn-primary">send</button>
  </form>
  {#if lost}<p class="text-flame-text mt-1">No measure is open to type into.</p>{/if}
</aside>

<style>
  .beam {
    fill: var(--silver);
    stroke: var(--color-base-content);
  }
  .jaw {
    fill: var(--platinum);
    stroke: var(--color-base-content);
  }
</style>
