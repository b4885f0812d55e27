<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { whenWords } from '$lib/text'

  /** What the scrap is worth, the prices it is reckoned with, and those that somebody has to answer for. */
  let found = $state.raw<Schemas['WorthOut'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  let said = $state('')
  const jar = $derived(found?.jar)

  onMount(() => void read())

  async function read() {
    const answer = await ask(api.GET('/api/worth'))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) found = answer.data
  }
  async function answerTo(one: Schemas['AskedPriceOut'], take: boolean) {
    const answer = await outbox.send<Schemas['WorthOut']>({
      method: 'POST',
      path: `/api/worth/prices/${one.id}`,
      body: { take },
      says: `${take ? 'taken' : 'left out'}: ${one.title} at ${one.per_gram} ${one.currency}`,
      where: '/worth',
    })
    if (answer.problem) {
      said = answer.problem.errors[0]?.message ?? ''
      await read()
    } else if (answer.data) {
      found = answer.data
      said = ''
    }
  }
</script>

<h1 class="sr-only">What the metal is worth</h1>
{#if found && jar}
  <section aria-label="The scrap jar">
    <p class="flex flex-wrap items-end gap-x-4 gap-y-2">
      <BigFigure figure={jar.worth} unit={jar.currency} label="Worth of the scrap" size="step" />
      <span class="max-w-[30rem] text-lead leading-[1.4]">
        lie in the scrap, by what is in it. <Say text={jar.says} />
      </span>
    </p>
    {#if jar.lots.length}
      <table class="mt-5 text-body">
        <thead class="text-soft text-small">
          <tr>
            <th scope="col">metal</th>
            <th scope="col" class="num">g</th>
            <th scope="col" class="num">fine g</th>
            <th scope="col" class="num">worth</th>
            <th scope="col" class="num">refined</th>
            <th scope="col">made of, in a thousand</th>
          </tr>
        </thead>
        <tbody>
          {#each jar.lots as lot (lot.metal)}
            <tr>
              <th scope="row" class="font-medium">{lot.title}</th>
              <td class="num">{lot.grams.toFixed(2)}</td>
              <td class="num">{lot.fine_g.toFixed(2)}</td>
              <td class="num">{lot.worth ?? '–'}</td>
              <td class="num">{lot.returns ?? '–'}</td>
              <td class="text-soft text-small">{lot.made_of}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    {#each jar.missing as line (line)}
      <p class="text-flame-text mt-2 text-note">Not in it: <Say text={line} />.</p>
    {/each}
  </section>

  {#each found.asked as one (one.id)}
    <section class="border-hairline mt-7 border-t pt-4" aria-label={`Asked about: ${one.title}`}>
      <p class="text-order leading-[1.4]">
        <Say text={one.says} />
        <span class="text-soft text-body"
          >{one.per_gram}
          {one.currency} a gram, quoted {whenWords(one.at, clock.now)}; {one.last} before.</span
        >
      </p>
      <p class="mt-2 flex gap-5">
        <button
          type="button"
          class="btn btn-primary text-body"
          onclick={() => void answerTo(one, true)}>Yes, take it</button
        >
        <button type="button" class="quiet" onclick={() => void answerTo(one, false)}
          >no, leave it out</button
        >
      </p>
    </section>
  {/each}
  {#if said}<p class="text-flame-text mt-2 text-body" role="status">{said}</p>{/if}

  <section class="border-hairline mt-7 border-t pt-4" aria-label="Prices">
    <h2 class="text-lead font-medium">What is pure costs</h2>
    {#if found.prices.length}
      <ul class="mt-2 flex flex-wrap gap-x-10 gap-y-3">
        {#each found.prices as one (one.id)}
          <li>
            <span class="figure text-title">{one.per_gram}</span>
            <span class="text-soft text-small">{one.currency} a gram</span><br />
            <span class="text-body">{one.title}</span>
            <span class="text-soft text-small">{whenWords(one.at, clock.now)}</span>
            {#if one.old}<span class="text-flame-text text-small">{one.old}</span>{/if}
            {#if !one.usable}
              <br /><span class="text-flame-text text-small"
                >this shop reckons in {found.currency}: not used</span
              >
            {/if}
          </li>
        {/each}
      </ul>
    {:else}
      <p class="mt-1 text-body">
        No price of what is pure is known yet. What a gram of a metal costs here is said in the
        <a class="quiet" href="/ways">ways</a>.
      </p>
    {/if}
    <p class={['mt-3 text-note', found.feed.ok ? 'text-soft' : 'text-flame-text']}>
      {#if !found.feed.set && !found.feed.at}
        This server was given no feed of prices.
      {:else}
        The feed{found.feed.at ? `, ${whenWords(found.feed.at, clock.now)}` : ''}: {found.feed.says}
      {/if}
      A shop's own price of a gram, in the <a class="quiet" href="/ways">ways</a>, goes before it.
    </p>
  </section>
{/if}
<Mistakes {mistakes} />

<style>
  th,
  td {
    padding: 0.3rem 1.4rem 0.3rem 0;
    text-align: left;
    vertical-align: baseline;
  }
  .num {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  tbody tr {
    border-top: 1px solid var(--hairline);
  }
  @media (max-width: 640px) {
    th:last-child,
    td:last-child {
      display: none;
    }
  }
</style>
