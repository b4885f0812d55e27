<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import { capital } from '$lib/text'

  interface Props {
    found: Schemas['Diagnosis']
    whose: string
  }
  let { found, whose }: Props = $props()
  const most = $derived(Math.max(...found.causes.map((one) => one.share), 0.01))
  const signed = (mm: number) => `${mm < 0 ? '−' : '+'}${length(Math.abs(mm))}`
</script>

<div class="why">
  <div>
    <h2 class="text-order">
      Why {whose}
      <b class="font-semibold">{found.off_text}</b>?
    </h2>
    <p class="mt-1 text-lead" data-testid="finding">{found.says}</p>
    {#if found.apart}<p class="mt-1">{found.apart}</p>{/if}
    {#if found.causes[0]?.mend}<p class="text-soft mt-1">
        Next time: {found.causes[0].mend.slice(0, 1).toLowerCase()}{found.causes[0].mend.slice(1)}
      </p>{/if}
    <ul class="mt-3" aria-label="Causes">
      {#each found.causes as cause (cause.keys.join('+') + cause.title)}
        <li>
          <span class="bar" style:--share={`${(100 * cause.share) / most}%`}
            ><span class="font-medium">{capital(cause.title)}</span></span
          >
          <span class="text-soft">{cause.odds}</span>
          <span
            >{cause.keys[0] === 'something-else' || cause.keys[0] === 'others'
              ? ''
              : signed(cause.predicts_mm)}</span
          >
          <span class="cure"
            >{#if cause.keys[0] !== 'others'}<span class="text-soft">{cause.says}</span>
              {cause.cure.says}{/if}</span
          >
        </li>
      {/each}
    </ul>
  </div>
  {#if found.ask}
    <div data-testid="ask">
      <p class="text-soft">Measure next</p>
      <p class="figure next">{found.ask.title}</p>
      <p class="mt-2 text-lead">{found.ask.says}</p>
      {#if found.ask.bits >= 0.02}
        <p class="text-soft mt-1 text-small">{found.ask.bits.toFixed(2)} bits of what is open</p>
      {/if}
    </div>
  {/if}
</div>

<style>
  .why {
    display: grid;
    gap: 1.5rem 3rem;
  }
  .next {
    font-size: clamp(30px, 3.4vw, 44px);
    line-height: 1.05;
  }
  li {
    display: grid;
    grid-template-columns: minmax(10rem, 1fr) 8.5rem 4.2rem minmax(12rem, 1.35fr);
    gap: 0 1rem;
    align-items: start;
    padding-block: 0.3rem;
  }
  .bar {
    padding: 0.25rem 0.5rem;
    background: linear-gradient(var(--wash), var(--wash)) no-repeat 0 0 / var(--share) 100%;
  }
  li > :not(.bar) {
    padding-block: 0.25rem;
  }
  @media (min-width: 1100px) {
    .why {
      grid-template-columns: minmax(0, 2.4fr) minmax(15rem, 1fr);
    }
  }
  @media (max-width: 760px) {
    li {
      grid-template-columns: 1fr auto auto;
      border-bottom: 1px solid var(--hairline);
    }
    .cure {
      grid-column: 1 / -1;
    }
  }
</style>
