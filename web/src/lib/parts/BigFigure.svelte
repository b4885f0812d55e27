<script lang="ts">
  import { keys } from '$lib/keys.svelte'
  import Say from './Say.svelte'

  interface Props {
    figure: string
    unit: string
    label: string
    size?: 'lead' | 'step'
    stale?: boolean
    flame?: boolean
  }
  let { figure, unit, label, size = 'lead', stale = false, flame = false }: Props = $props()
  let full = $state(false)
  let button: HTMLButtonElement | undefined = $state()

  const long = $derived(figure.length > 7)
  $effect(() =>
    keys.add([
      { key: 'f', says: 'the figure over the whole screen, and back', run: () => (full = !full) },
      ...(full ? [{ key: 'Escape', says: 'back', run: () => (full = false) }] : []),
    ]),
  )
</script>

<button
  bind:this={button}
  type="button"
  class={['block cursor-zoom-in text-left whitespace-nowrap', stale && 'stale', 'eased']}
  onclick={() => (full = true)}
>
  <span class={['figure', size, long && 'long', flame && 'text-flame-text']} data-testid="figure"
    ><Say text={figure} /></span
  > <span class="unit text-soft">{unit}</span>
  <span class="sr-only">, {label}; show it over the whole screen</span>
</button>

{#if full}
  <button
    type="button"
    class="bg-paper fixed inset-0 z-50 flex cursor-zoom-out flex-col items-center justify-center"
    onclick={() => (full = false)}
  >
    <span class={['figure full', long && 'long']}><Say text={figure} /></span>
    <span class="text-soft mt-10 text-title">{unit ? `${unit}, ` : ''}{label}</span>
    <span class="sr-only">; back</span>
  </button>
{/if}

<style>
  .lead {
    font-size: clamp(84px, 13.2vw, 168px);
  }
  .step {
    font-size: clamp(64px, 9vw, 116px);
  }
  .lead.long,
  .step.long {
    font-size: clamp(48px, 6.4vw, 84px);
  }
  .unit {
    font-size: 40px;
    margin-left: 0.1em;
  }
  .full {
    font-size: min(44vw, 70vh);
  }
  .full.long {
    font-size: min(17vw, 60vh);
  }
</style>
