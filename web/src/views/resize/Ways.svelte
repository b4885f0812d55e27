<script lang="ts">
  import { type Catalogue, type Mistake, type ResizePlan, type Schemas } from '$lib/api/client'
  import { length, typed } from '$lib/length.svelte'
  import type { Words } from '../sheet/order'
  import OrderWords from '../sheet/OrderWords.svelte'
  import { AtHand } from './at-hand.svelte'

  interface Props {
    words: Words
    catalogue: Catalogue
    mistakes: Mistake[]
    plan: ResizePlan | null
    jobId: number | null
  }
  let { words = $bindable(), catalogue, mistakes, plan, jobId }: Props = $props()
  const GAP = ' '
  const f = $derived(words.fields)
  const methods = $derived([
    { key: '', title: 'the best way' },
    ...(plan?.methods ?? []).map((one) => ({ key: one.key, title: one.title })),
    ...(f.method && !plan?.methods.some((one) => one.key === f.method)
      ? [{ key: f.method, title: f.method }]
      : []),
  ])
  const key = $derived(plan?.method ?? '')
  const facts = $derived.by(() => {
    const never =
      !!f.override_reason ||
      plan?.methods.find((one) => one.key === f.method)?.advice === 'never' ||
      mistakes.some((one) => one.field === 'override_reason')
    const tested =
      f.metal === 'unknown' ||
      ['mark', 'magnet', 'touch'].some((name) => f[`tested.${name}`]?.trim())
    const holds = {
      never,
      tested,
      insert: key === 'add-stock' || key === 'reshank',
      'comes-out': key === 'take-out' || key === 'reshank',
    }
    return new Set(Object.entries(holds).flatMap(([name, on]) => (on ? [name] : [])))
  })
  const hand = new AtHand()
  $effect(() => hand.follow(facts.has('insert') ? plan : null, jobId))
  /** What is at hand from other rings that came in: credited to the shop, of the same metal. */
  const pieces = $derived(hand.pieces.filter((one) => one.metal === f.metal && one.id !== jobId))

  function take(piece: Pick<Schemas['Spare'], 'length_mm' | 'width_mm' | 'thickness_mm'>) {
    Object.assign(words.fields, {
      'piece.length_mm': typed(piece.length_mm),
      'piece.width_mm': typed(piece.width_mm),
      'piece.thickness_mm': typed(piece.thickness_mm),
      'piece.at': 'neutral',
    })
  }
</script>

{#snippet offers()}
  {#each hand.offers.slice(0, 3) as one (one.id)}, or
    <button type="button" class="quiet" onclick={() => take(one)}
      >{one.name}{one.place ? `, ${one.place}` : ''}, {length(one.length_mm)}</button
    >{GAP}<span class={one.enough ? 'text-soft' : 'text-flame-text'}>({one.says})</span
    >{/each}{#each pieces as piece (piece.id)}, or
    <button type="button" class="quiet" onclick={() => take(piece)}
      >{length(piece.length_mm)} from {hand.names[String(piece.id)]}</button
    >{/each}
{/snippet}

<p class="text-soft mt-2 text-note leading-[1.75]">
  <OrderWords
    bind:fields={words.fields}
    words={catalogue.sentences.resize?.[1] ?? []}
    lists={{ methods }}
    own={offers}
    {facts}
    {catalogue}
    {mistakes}
  />.
</p>
