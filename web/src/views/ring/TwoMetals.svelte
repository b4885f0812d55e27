<script lang="ts">
  import { api, ask, type Catalogue, type Mistake, type Order, type Schemas } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'

  /** What this ring costs at the counter, in its own metal and in another. */
  interface Props {
    order: Order
    catalogue: Catalogue
    waysOf: { ways_of?: string }
  }
  let { order, catalogue, waysOf }: Props = $props()
  let other = $state('')
  let found = $state.raw<Schemas['PricedRing'][]>([])
  let mistakes = $state.raw<Mistake[]>([])
  let turn = 0
  const choices = $derived([
    { key: '', title: 'no other metal' },
    ...catalogue.metals.filter((one) => one.key !== order.metal),
  ])

  $effect(() => {
    void read(order, other)
  })

  async function read(order: Order, other: string) {
    const mine = ++turn
    const metals = [String(order.metal), ...(other ? [other] : [])]
    const params = { query: waysOf }
    const answer = await ask(api.POST('/api/worth/ring', { params, body: { order, metals } }))
    if (mine !== turn || !answer) return
    mistakes = answer.problem ? answer.problem.errors : []
    found = answer.problem ? [] : answer.data
  }
</script>

<section
  aria-label="What it costs"
  class="border-hairline mt-6 border-t pt-4"
  data-testid="two-metals"
>
  <p class="text-lead">
    What it costs, beside it in <Choose
      bind:value={other}
      label="Beside it in"
      field="metals.1"
      {choices}
      {mistakes}
    />
  </p>
  <div class="mt-3 grid gap-x-12 gap-y-6 md:grid-cols-2">
    {#each found as one (one.metal)}
      <div>
        <p>
          <span class="figure text-title" data-testid={`costs-${one.metal}`}
            >{one.estimate.total}</span
          >
          <span class="text-soft text-body">{one.estimate.currency}</span>
          <span class="ml-2 text-lead font-medium">{one.title}</span>
        </p>
        <p class="text-soft text-small">
          {one.grams.toFixed(2)} g; in a thousand {one.made_of}
        </p>
        <ul class="mt-2 text-body">
          {#each one.estimate.lines as line (line.key)}
            <li class="line">
              <span class="amount">{line.amount}</span>
              <span>{line.title}</span>
              <span class="text-soft text-small"><Say text={line.why} /></span>
            </li>
          {/each}
        </ul>
        {#each one.estimate.missing as said (said)}
          <p class="text-flame-text text-note">Not in it: <Say text={said} />.</p>
        {/each}
      </div>
    {/each}
  </div>
  <Mistakes {mistakes} />
</section>

<style>
  .line {
    display: grid;
    grid-template-columns: 5rem 5.5rem 1fr;
    gap: 0.7rem;
    align-items: baseline;
    padding: 0.15rem 0;
  }
  .amount {
    text-align: right;
    font-variant-numeric: tabular-nums;
    font-weight: 500;
  }
</style>
