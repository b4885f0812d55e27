<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { type Catalogue } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { shop } from '$lib/length.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { whenWords } from '$lib/text'
  import { session } from '$lib/session.svelte'
  import { ItemState } from './item.svelte'
  import { Owners } from './owners.svelte'
  import SectionMark from './SectionMark.svelte'

  let { itemId }: { catalogue: Catalogue; itemId: number } = $props()
  const here = untrack(() => new ItemState(itemId))
  const item = $derived(here.item)
  const editing = $derived(here.editing)
  const owners = new Owners()
  const GAP = ' '
  const MOVES = [
    { key: 'used', title: 'used' },
    { key: 'scrap', title: 'to the scrap' },
    { key: 'filings', title: 'to the filings' },
    { key: 'correct', title: 'counted: there are' },
  ]
  const mine = $derived(owners.choices(editing?.said.job_id ?? '', item?.job_name ?? ''))
  onMount(() => void here.read())
  $effect(() => editing?.draft.keep())
  $effect(() =>
    outbox.listen((sent) => {
      if (sent.where !== here.where) return false
      void here.read()
      return true
    }),
  )
  $effect(() => here.draft.keep())
</script>

{#if here.missing}
  <h1 class="text-title">There is no such piece in this drawer.</h1>
  <p class="mt-3"><a class="quiet" href="/drawer">To the drawer</a></p>
{:else if item && editing}
  <p class="text-note"><a class="quiet" href="/drawer">the drawer</a></p>
  <h1 class="mt-1 flex flex-wrap items-center gap-x-4 text-title leading-tight">
    <SectionMark outline={item.outline} family={item.family} />
    <span class="font-semibold">{item.called}</span>
    <span class="text-soft text-lead"
      >{item.metal_title}
      {item.title}{item.poured ? ', poured here' : ''}{item.owner
        ? `; only for ${item.owner}`
        : ''}</span
    >
  </h1>
  <p class="mt-4 flex flex-wrap items-baseline gap-x-10 gap-y-2" data-testid="there">
    {#if item.length_text}<span
        ><span class="figure there">{item.length_text}</span>
        <span class="text-soft">{shop.units === 'mm' ? 'mm' : ''} long</span></span
      >{/if}
    <span
      ><span class="figure there">{item.mass_g.toFixed(2)}</span>
      <span class="text-soft">g</span></span
    >
    {#if item.from_id}<span class="text-soft"
        >from <a class="quiet" href={`/drawer/${item.from_id}`}>{item.from_called}</a></span
      >{/if}
  </p>

  <Theirs {editing} onsave={() => void here.save()} />
  <form
    class="mt-5"
    onsubmit={(event) => {
      event.preventDefault()
      void here.save()
    }}
  >
    <p class="text-lead leading-[1.9]">
      Called <Word
        bind:value={editing.said.name}
        label="Its name"
        field="name"
        placeholder="by its number"
        mistakes={editing.mistakes}
      />, lot <Word
        bind:value={editing.said.lot}
        label="Lot"
        field="lot"
        placeholder="none"
        mistakes={editing.mistakes}
      />, in
      <Word
        bind:value={editing.said.place}
        label="Where it lies"
        field="place"
        placeholder="which tray"
        mistakes={editing.mistakes}
      />,
      {#if session.may('prices')}<Word
          bind:value={editing.said.price}
          label="Price of a gram"
          field="price"
          placeholder="no price"
          mistakes={editing.mistakes}
        />
        a gram;{/if} it is
      <span onfocusin={() => void owners.open()}
        ><Choose
          bind:value={editing.said.job_id}
          label="Whose it is"
          field="job_id"
          choices={mine}
          mistakes={editing.mistakes}
        /></span
      >{#if editing.said.job_id}, from <Word
          bind:value={editing.said.owner}
          label="Owner"
          field="owner"
          placeholder="its customer"
          mistakes={editing.mistakes}
        />{/if}.
      {#if editing.kept}<span class="text-blue" role="status">Kept.</span>
      {:else if editing.touched && session.may('book')}<button
          class="btn btn-primary text-note leading-tight">Keep it</button
        >{/if}
    </p>
    <DraftSays draft={editing.draft} />
    <Mistakes mistakes={editing.mistakes} />
  </form>

  <form
    class="mt-4"
    aria-label="Book by hand"
    onsubmit={(event) => {
      event.preventDefault()
      void here.book()
    }}
  >
    <p class="text-lead leading-[1.9]">
      Of it <Choose
        bind:value={here.move.kind}
        label="What happened"
        field="kind"
        choices={MOVES}
        mistakes={here.refused}
      />
      {#if item.counted !== 'mass'}<Word
          bind:value={here.move.length_mm}
          label="So long"
          field="length_mm"
          placeholder={shop.units}
          mistakes={here.refused}
        /> long or{GAP}{/if}<Word
        bind:value={here.move.mass_g}
        label="So heavy"
        field="mass_g"
        placeholder="so many"
        mistakes={here.refused}
      /> g, <Word
        bind:value={here.move.note}
        label="Why"
        field="note"
        placeholder={here.move.kind === 'correct' ? 'why' : 'a note'}
        most={200}
        mistakes={here.refused}
      />.
      {#if outbox.from(here.where).length}<span class="text-flame-text">It is on its way.</span>
      {:else if session.may('book')}<button class="btn btn-primary text-note leading-tight"
          >Book it</button
        >{/if}
    </p>
    <DraftSays draft={here.draft} />
    <Mistakes mistakes={here.refused} />
  </form>

  <h2 class="mt-6 text-lead font-medium">How it came to be so</h2>
  <ul class="mt-1 max-w-[64rem]" data-testid="movements">
    {#each item.movements as row (row.nth)}
      <li class="border-hairline move border-t py-1.5">
        <span class="amount">{row.length_text}</span>
        <span class="amount">{row.mass_g > 0 ? '+' : ''}{row.mass_g.toFixed(2)} g</span>
        <span
          >{row.title}{#if row.job_id}, <a class="quiet" href={`/job/${row.job_id}`}
              >{row.job_name}</a
            >{row.blank ? ` (${row.blank})` : ''}{/if}{#if row.other_id}, <a
              class="quiet"
              href={`/drawer/${row.other_id}`}>{row.other}</a
            >{/if}{row.note ? `: ${row.note}` : ''}</span
        >
        <span class="text-soft"
          >{whenWords(row.at, clock.now)}{row.by ? `, ${row.by}` : ''}
          {#if row.may_go_back && session.may('correct')}<button
              type="button"
              class="quiet"
              onclick={() => void here.back(row.batch)}>take back</button
            >{/if}</span
        >
      </li>
    {/each}
  </ul>
  {#if item.moves > item.movements.length}
    <p class="mt-1 text-note">
      <button type="button" class="quiet" onclick={() => void here.older()}
        >{item.moves - item.movements.length} older</button
      >
    </p>
    <Mistakes mistakes={here.away} />
  {/if}
{:else}
  <Mistakes mistakes={here.away} />
{/if}

<style>
  .there {
    font-size: 64px;
  }
  .move {
    display: grid;
    grid-template-columns: 5.5rem 6.5rem 1fr 17rem;
    gap: 0.2rem 1.2rem;
    align-items: baseline;
    font-size: var(--text-body);
  }
  .amount {
    font-family: var(--font-figure);
    font-weight: 500;
    font-size: var(--text-lead);
    text-align: right;
  }
  @media (max-width: 760px) {
    .move {
      grid-template-columns: 5rem 6rem;
    }
    .move > :nth-child(n + 3) {
      grid-column: 1 / -1;
    }
  }
</style>
