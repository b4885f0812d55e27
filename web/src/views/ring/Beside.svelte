<script lang="ts">
  import { untrack } from 'svelte'

  import { api, ask, type Catalogue, type Order, type Schemas } from '$lib/api/client'
  import { Live } from '$lib/live.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Strip from '$lib/parts/Strip.svelte'
  import { waysOf, type Words } from '../sheet/order'
  import StockWords from '../sheet/StockWords.svelte'
  import { toOrder, type Around } from './order'

  interface Props {
    words: Words
    around: Around
    order: Order
    catalogue: Catalogue
    perMm: number
    onclose: () => void
  }
  let { words = $bindable(), around, order, catalogue, perMm, onclose }: Props = $props()
  const OWN = ['stock.profile', 'stock.width_mm', 'stock.thickness_mm', 'stock.side_mm', 'rule']
  let own = $state(
    untrack(() =>
      Object.fromEntries(OWN.map((path) => [path, words.beside[path] ?? words.fields[path] ?? ''])),
    ),
  )
  $effect(() => {
    const typed = $state.snapshot(own)
    untrack(() => (words.beside = typed))
  })
  const live = new Live<Schemas['Comparison']>()
  const made = $derived(live.answer)
  const mistakes = $derived(
    live.mistakes
      .filter((one) => !one.field.startsWith('this.'))
      .map((one) => ({ ...one, field: one.field.replace(/^other\./, '') })),
  )
  let lit = $state('')
  const other = $derived(toOrder({ ...words, fields: { ...words.fields, ...own } }, around))
  const blank = $derived(made?.other.blanks[0])

  $effect(() => {
    const body = { this: order, other }
    const query = waysOf(words, around.jobId)
    return live.want((signal) =>
      ask(api.POST('/api/plan/compare', { body, params: { query }, signal })),
    )
  })
</script>

<section aria-label="Beside it" class="border-hairline mt-3 border-t pt-3">
  <div class="flex flex-wrap items-baseline gap-x-6">
    <p class="text-lead leading-[1.6]">
      Beside it, from
      <StockWords
        bind:fields={own}
        path="stock"
        label="beside it"
        profiles={around.style.profiles}
        {catalogue}
        {mistakes}
      /> by the
      <Choose
        bind:value={() => own.rule ?? '', (v) => (own.rule = v)}
        label="Rule beside it"
        field="rule"
        choices={catalogue.rules}
        {mistakes}
      />:
      {#if blank}<strong class="figure text-title" data-testid="beside-figure"
          ><Say text={blank.cut_text} /></strong
        >
        {blank.unit}.{/if}
    </p>
    <button type="button" class="quiet text-note" onclick={onclose}>put it away</button>
  </div>
  <Mistakes {mistakes} />
  {#if made && blank}
    <p class={['text-blue text-body', mistakes.length && 'stale']} data-testid="beside-says">
      {#each made.says as line (line)}<Say text={`${line} `} />{/each}
    </p>
    <Strip
      {blank}
      family={made.other.metal.family}
      stale={mistakes.length > 0}
      {perMm}
      tallest={64}
      bind:lit
    />
  {/if}
</section>
