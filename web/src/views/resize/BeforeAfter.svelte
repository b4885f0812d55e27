<script lang="ts">
  import type { ResizePlan } from '$lib/api/client'
  import Figure from '$lib/parts/Figure.svelte'
  import Say from '$lib/parts/Say.svelte'

  interface Props {
    plan: ResizePlan
    stale: boolean
    /** The room for both [dots]. */
    width?: number
    height?: number
  }
  let { plan, stale, width = 560, height = 330 }: Props = $props()
  const wide = (box: readonly number[]) => (box[2] ?? 0) - (box[0] ?? 0)
  const high = (box: readonly number[]) => (box[3] ?? 0) - (box[1] ?? 0)
  const perMm = $derived(
    Math.min(
      (width - 60) / (wide(plan.before.box) + wide(plan.ring.box)),
      (height - 12) / Math.max(high(plan.before.box), high(plan.ring.box)),
    ),
  )
  const family = $derived(plan.metal.family)
  const stays = $derived(plan.method === 'refuse' || plan.method === 'true-first')
  const before = $derived({
    drawing: plan.before,
    text: plan.sides.from_text,
    when: 'now',
    label: `The ring as it came in, ${plan.sides.from_text}, looked through.`,
  })
  const after = $derived({
    drawing: plan.ring,
    text: plan.sides.to_text,
    when: 'after',
    label: `The ring after, ${plan.sides.to_text}, at the same scale.`,
  })
</script>

<div class="flex flex-wrap items-end gap-x-8 gap-y-4">
  {#each stays ? [before] : [before, after] as one (one.when)}
    <figure>
      <Figure
        drawing={one.drawing}
        {family}
        label={one.label}
        {width}
        {height}
        {perMm}
        {stale}
        words
      />
      <figcaption class="text-center text-note"><Say text={one.text} />, {one.when}</figcaption>
    </figure>
  {/each}
</div>
