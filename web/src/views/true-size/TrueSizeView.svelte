<script lang="ts">
  import { api, ask, type Schemas } from '$lib/api/client'
  import { keys } from '$lib/keys.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { trueSize } from '$lib/true-size.svelte'

  const CARD = { width: 85.6, height: 53.98 } // ISO/IEC 7810, ID-1
  let inside = $state(17.1)
  let size = $state.raw<Schemas['FingerSize'] | null>(null)
  const perMm = $derived(trueSize.perMm)

  $effect(() => {
    const body = { text: `${inside.toFixed(2)} mm ID`, home_scale: 'us' as const }
    const abort = new AbortController()
    void ask(api.POST('/api/plan/size', { body, signal: abort.signal })).then((answer) => {
      if (answer?.data) size = answer.data
    })
    return () => abort.abort()
  })
  $effect(() =>
    keys.add([
      { key: '+', says: 'the circle larger', run: () => (inside = Math.min(28, inside + 0.05)) },
      { key: '-', says: 'the circle smaller', run: () => (inside = Math.max(11, inside - 0.05)) },
    ]),
  )
</script>

<div class="flex items-baseline justify-between">
  <h1 class="text-title leading-tight">True size on this screen</h1>
  <a class="quiet" href="/gauges">all gauges</a>
</div>
<div class="mt-4 grid gap-10 lg:grid-cols-2">
  <section aria-label="Calibrate the screen">
    <h2 class="text-lead font-medium">Lay a bank card on it</h2>
    <label class="mt-1 block"
      >Move until the outline is the card's.
      <input
        type="range"
        min="2"
        max="9"
        step="0.005"
        aria-label="Pixels a millimetre"
        value={perMm}
        oninput={(event) => trueSize.set(Number(event.currentTarget.value))}
        class="mt-2 block w-full max-w-[32rem]"
      />
    </label>
    <svg
      width={CARD.width * perMm + 4}
      height={CARD.height * perMm + 4}
      class="mt-3 max-w-full"
      data-testid="card-outline"
      role="img"
      aria-label="Outline of a bank card"
    >
      <rect
        x="2"
        y="2"
        width={CARD.width * perMm}
        height={CARD.height * perMm}
        rx={3.18 * perMm}
        class="outline-card"
      />
      <text x={CARD.width * perMm * 0.5} y={CARD.height * perMm * 0.5} text-anchor="middle"
        >85.60 × 53.98 mm</text
      >
    </svg>
    <p class="text-soft mt-2">
      {trueSize.known
        ? `Kept for this screen: ${perMm.toFixed(2)} dots a millimetre.`
        : 'Not set yet: what is drawn here is a guess.'}
    </p>
  </section>
  <section aria-label="Lay a ring on the screen">
    <h2 class="text-lead font-medium">Lay a ring on the circle</h2>
    <label class="mt-1 block"
      >Until the blue just fills it; + and − go in twentieths.
      <input
        type="range"
        min="11"
        max="28"
        step="0.05"
        aria-label="Inside diameter"
        bind:value={inside}
        class="mt-2 block w-full max-w-[32rem]"
      />
    </label>
    <svg
      width={30 * perMm}
      height={30 * perMm}
      class="mt-3"
      role="img"
      aria-label={`A circle of ${inside.toFixed(2)} mm`}
    >
      <circle
        cx={15 * perMm}
        cy={15 * perMm}
        r={(inside / 2) * perMm}
        class="finger"
        data-testid="circle"
      />
    </svg>
    {#if size}
      <p class="text-order">
        <span class="figure text-title"><Say text={size.sizes.us ?? ''} /></span>
        <span class="ml-4"
          >{inside.toFixed(2)} mm inside; <Say text={size.sizes.uk ?? ''} />, {size.sizes.iso}</span
        >
      </p>
    {/if}
    <p class="text-soft mt-1 max-w-[34rem]">
      {trueSize.accuracy} Good for choosing, not for cutting.
    </p>
  </section>
</div>

<style>
  .outline-card {
    fill: none;
    stroke: var(--color-base-content);
    stroke-width: 1.5;
  }
  .finger {
    fill: var(--color-primary);
  }
</style>
