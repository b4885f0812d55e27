<script lang="ts">
  import { length } from '$lib/length.svelte'
  import type { RingPlan } from '$lib/api/client'
  import { commonScale } from '$lib/drawing/scale'
  import Strip from '$lib/parts/Strip.svelte'

  interface Props {
    plan: RingPlan
    at: number
    lit: string
    stale: boolean
    perMm: number | undefined
    scale?: number
    onmove: (field: string, value: number) => void
    onpick: (at: number) => void
  }
  let {
    plan,
    at,
    lit = $bindable(),
    stale,
    perMm,
    scale = $bindable(20),
    onmove,
    onpick,
  }: Props = $props()
  let room = $state(1208)
  let none = $state('')
  const letters = $derived(plan.blanks[at]?.drawing.labels ?? [])
  const several = $derived(plan.blanks.length > 1)
  const tallest = $derived(several ? 48 : 104)
  const common = $derived(perMm ?? commonScale(plan.blanks, { width: room, x0: 10, tallest }))
  $effect(() => {
    scale = common
  })
</script>

<div bind:clientWidth={room}>
  {#each plan.blanks as blank, i (blank.name)}
    <!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
    <div class={several ? 'mt-2' : ''} onclick={() => onpick(i)} onfocusin={() => onpick(i)}>
      {#if i === at}
        <Strip
          {blank}
          family={plan.metal.family}
          {stale}
          perMm={several || perMm ? common : undefined}
          {tallest}
          named={several}
          {onmove}
          bind:lit
        />
      {:else}
        <Strip
          {blank}
          family={plan.metal.family}
          {stale}
          perMm={common}
          tallest={22}
          named
          ruled={false}
          bind:lit={none}
        />
      {/if}
    </div>
  {/each}
  {#if letters.length}
    <p class={['text-small leading-snug', stale && 'stale']} data-testid="letters">
      <span class="text-soft">From the square end to the middle of each:</span>
      {#each letters as letter, i (i)}
        <span class="mr-3 whitespace-nowrap"
          ><span class="font-semibold">{letter.text}</span> {length(letter.x_mm)}</span
        >
      {/each}
    </p>
  {/if}
</div>
