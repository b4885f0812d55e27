<script lang="ts">
  import type { Catalogue, Mistake, ResizePlan } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { notKept } from '../sheet/labels'
  import { type Words, type WordSpec } from '../sheet/order'
  import OrderWords from '../sheet/OrderWords.svelte'
  import { TO_GAUGE } from './order'

  interface Props {
    words: Words
    catalogue: Catalogue
    fromGauges: { key: string; title: string }[]
    toGauges: { key: string; title: string }[]
    mistakes: Mistake[]
    plan: ResizePlan | null
  }
  let { words = $bindable(), catalogue, fromGauges, toGauges, mistakes, plan }: Props = $props()

  const facts = $derived(new Set(fromGauges.length > 1 ? ['gauges'] : []))
  const read = $derived.by(() => {
    if (!plan || mistakes.length) return ''
    const bare = (text = '') => text.trim() !== '' && !/^[a-z]/i.test(text.trim())
    const { from, to } = words.fields
    const said = [bare(from) && plan.sides.from_text, bare(to) && plan.sides.to_text]
    return said.filter(Boolean).join(' to ')
  })
</script>

{#snippet gauge(word: WordSpec)}
  {#if word.field === TO_GAUGE}
    <Choose
      bind:value={() => words.fields[TO_GAUGE] ?? '', (v) => (words.fields[TO_GAUGE] = v)}
      label={word.label}
      field={word.field}
      choices={toGauges}
      {mistakes}
    />
  {:else}
    <Choose
      bind:value={words.gauge}
      label={word.label}
      field={word.field}
      choices={fromGauges}
      {mistakes}
    />
  {/if}
{/snippet}

<section aria-label="The ring" class="min-w-0">
  <p class="text-order leading-[1.62]">
    <OrderWords
      bind:fields={words.fields}
      words={catalogue.sentences.resize?.[0] ?? []}
      own={gauge}
      {facts}
      {catalogue}
      {mistakes}
    />.
  </p>
  {#if read}<p class="text-soft mt-1 text-note">Read as {read}.</p>{/if}
  <Mistakes mistakes={notKept(mistakes)} />
</section>
