<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, isAway, type Catalogue, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { shop } from '$lib/length.svelte'
  import { Live } from '$lib/live.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import { Pages } from '$lib/pages.svelte'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { needsOf } from '../sheet/order'
  import {
    bookBody,
    chosenOf,
    differs,
    MELT,
    meltBody,
    mouldsOf,
    type MeltFields,
    type Picked,
  } from './melt'

  let { catalogue }: { catalogue: Catalogue } = $props()
  let f = $state<MeltFields>({ ...MELT })
  let picked = $state<Picked>({})
  let refused = $state.raw<Mistake[]>([])
  const GAP = ' '
  const live = new Live<Schemas['MeltPlan']>()
  const alloying = new Live<Schemas['AlloyPlan']>()
  const pages = new Pages<Schemas['ItemOut']>()
  const draft = new Draft(
    'melt',
    () => ({ f: { ...f }, picked: { ...picked } }),
    (typed: { f: MeltFields; picked: Picked }) => {
      f = { ...MELT, ...typed.f }
      picked = { ...typed.picked }
    },
  )
  /** What can go into a crucible: all but solder. */
  const items = $derived(pages.items.filter((one) => one.kind !== 'solder'))
  const wide = $derived(needsOf(f.profile, catalogue).includes('width_mm'))
  const plan = $derived(live.answer)
  const family = $derived(catalogue.metals.find((one) => one.key === f.metal)?.family)
  const mixed = $derived(differs(f.metal, items, picked))
  const FIELDS: Record<string, string> = {
    'blanks.0.stock.thickness_mm': 'thick',
    'blanks.0.stock.width_mm': 'width',
    'blanks.0.stock.profile': 'profile',
    'blanks.0.length_mm': 'long',
    'blanks.0.count': 'count',
    trim_and_sprue: 'trim',
    added_g: 'added',
  }
  const mistakes = $derived(
    [...refused, ...live.mistakes, ...(mixed ? alloying.mistakes : [])].map((one) => ({
      ...one,
      field: FIELDS[one.field] ?? fieldOf(one.field),
    })),
  )
  function fieldOf(field: string): string {
    if (field.startsWith('moulds')) return 'moulds'
    if (field.startsWith('poured')) return field.endsWith('mass_g') ? 'out' : 'moulds'
    return field
  }
  const bars = $derived(Math.max(1, mouldsOf(f.moulds).length))
  const near = (one: Schemas['ItemOut']) => one.family === family || one.metal === f.metal
  const refusals = $derived(
    new Map(
      (plan?.refused ?? []).map((one) => [chosenOf(items, picked)[one.at]?.item.id, one.why]),
    ),
  )

  onMount(() => {
    void draft.begin()
    void pages.all((offset) => ask(api.GET('/api/stock', { params: { query: { offset } } })))
    return () => {
      live.stop()
      alloying.stop()
    }
  })
  $effect(() => draft.keep())
  $effect(() =>
    outbox.listen((sent, data) => {
      if (sent.where !== '/melt') return false
      router.go(`/drawer/${(data as Schemas['OneItem']).id}`)
      return true
    }),
  )
  $effect(() => {
    const body = meltBody(f, wide, items, picked, session.who?.ways?.torches ?? [], shop.units)
    return live.want((signal) => ask(api.POST('/api/plan/melt', { body: body as never, signal })))
  })
  $effect(() => {
    if (!mixed) return
    const body = {
      parts: chosenOf(items, picked).map((one) => ({
        metal: one.item.metal,
        mass_g: one.mass,
        state: one.item.state,
      })),
      target_metal: f.metal,
    }
    return alloying.want((signal) =>
      ask(api.POST('/api/plan/alloy', { body: body as never, signal })),
    )
  })
  function pick(item: Schemas['ItemOut']) {
    if (picked[item.id] === undefined) {
      // what is still short of it, or all of it where nothing is
      const short = plan?.short_g ?? 0
      const take = short > 0.005 && short < item.mass_g ? Math.ceil(short * 100) / 100 : item.mass_g
      picked[item.id] = String(Math.floor(take * 10000) / 10000)
    } else
      picked = Object.fromEntries(Object.entries(picked).filter(([id]) => id !== String(item.id)))
  }
  async function book() {
    const answer = await outbox.send<Schemas['OneItem']>({
      method: 'POST',
      path: '/api/stock/melts',
      body: bookBody(f, wide, items, picked, shop.units),
      says: 'a melt',
      where: '/melt',
      slot: draft.slot,
    })
    if (answer.problem) refused = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      picked = {}
      f = { ...f, out: '', over: '', added: '' }
      draft.done()
      router.go(`/drawer/${answer.data.id}`)
    }
  }
</script>

<h1 class="sr-only">A melt</h1>
<p class="text-note"><a class="quiet" href="/drawer">the drawer</a></p>
<p class="text-order leading-[1.7]">
  Melt <Choose
    bind:value={f.metal}
    label="Metal"
    field="metal"
    choices={catalogue.metals}
    {mistakes}
  /> for
  <Word bind:value={f.count} label="How many" field="count" placeholder="1" {mistakes} /> of
  <Choose
    bind:value={f.profile}
    label="Profile of the bar"
    field="profile"
    choices={catalogue.profiles}
    {mistakes}
  />{GAP}{#if wide}<Word
      bind:value={f.width}
      label="Width of the bar"
      field="width"
      placeholder="wide"
      {mistakes}
    /> by{GAP}{/if}<Word
    bind:value={f.thick}
    label="Thickness of the bar"
    field="thick"
    placeholder="thick"
    {mistakes}
  />,
  <Word bind:value={f.long} label="Length of the bar" field="long" placeholder="long" {mistakes} /> long;
  <Word bind:value={f.loss} label="Loss" field="loss" placeholder="2 %" {mistakes} /> burns and sticks,
  <Word bind:value={f.trim} label="Sprue and trim" field="trim" placeholder="8 %" {mistakes} /> is cut
  off; moulds
  <Word
    bind:value={f.moulds}
    label="Moulds"
    field="moulds"
    placeholder="6 × 6 × 50; …"
    {mistakes}
  />.
</p>
<DraftSays {draft} />
<Mistakes {mistakes} />

{#if plan}
  <div class="lead mt-3">
    <section aria-label="What goes into the crucible" data-testid="melt-lead">
      <BigFigure
        figure={plan.mass_needed_g.toFixed(1)}
        unit="g"
        label="into the crucible"
        stale={live.stale}
      />
    </section>
    <div class={['text-lead leading-[1.5]', live.stale && 'stale', 'eased']} aria-live="polite">
      {#each plan.says as line, i (i)}<p><Say text={line} /></p>{/each}
      <p class="text-soft">
        {plan.poured_g.toFixed(1)} g in the mould, {plan.blanks_g.toFixed(1)} g in the end; molten a ball
        of
        {(shop.units === 'in' ? plan.lump_mm / 25.4 : plan.lump_mm).toFixed(
          shop.units === 'in' ? 2 : 0,
        )}
        {shop.units}.
      </p>
      {#each plan.ingots as one, i (i)}<p>Mould {i + 1}: <Say text={one.says} />.</p>{/each}
      {#each plan.torches as one (one.title)}
        <p class={one.enough === 'no' ? 'text-flame-text' : ''}>
          <span class="font-medium">{one.title}</span>, {one.done}: {one.says}.
        </p>
      {:else}
        <p class="text-soft text-note">
          Which of your torches melts it? Say what each has done in the <a
            class="quiet"
            href="/ways">ways</a
          >.
        </p>
      {/each}
    </div>
  </div>

  <h2 class="mt-5 text-lead font-medium">From what is on hand</h2>
  <ul class="mt-1 max-w-[64rem]" data-testid="melt-from">
    {#each items.filter((one) => near(one) || picked[one.id] !== undefined) as item (item.id)}
      <li class="border-hairline pick border-t py-1.5">
        <label class="cursor-pointer">
          <input
            type="checkbox"
            checked={picked[item.id] !== undefined}
            onchange={() => pick(item)}
          />
          <span class="font-medium">{item.called}</span>
          <span class="text-soft"
            >{item.metal_title}
            {item.title}{item.owner ? `, ${item.owner}’s own` : ''}, {item.mass_g.toFixed(2)} g</span
          >
        </label>
        <span>
          {#if picked[item.id] !== undefined}<Word
              bind:value={() => picked[item.id] ?? '', (v) => (picked[item.id] = v)}
              label={`Grams of ${item.called}`}
              field={`have.${item.id}`}
              placeholder="how much"
            /> g of it{/if}
        </span>
        <span class="text-flame-text text-note">{refusals.get(item.id) ?? ''}</span>
      </li>
    {:else}
      {#if pages.read}<li class="text-soft py-2">
          No {plan ? 'metal like it' : 'metal'} is in the drawer.
        </li>{/if}
    {/each}
  </ul>
  {#if mixed && alloying.answer}
    <p class="mt-3 text-lead" data-testid="alloy">
      By mass balance: <Say text={alloying.answer.says.join(' ')} /> It comes to {alloying.answer.total_g.toFixed(
        2,
      )} g.
      {#if alloying.answer.add !== 'nothing'}Added: <Word
          bind:value={f.added}
          label="Grams added"
          field="added"
          placeholder="how much"
          {mistakes}
        /> g.{/if}
    </p>
  {/if}
  {#each plan.cautions as line (line)}<p class="text-soft mt-1 text-note">{line}</p>{/each}
  {#if Object.keys(picked).length}
    <p class="mt-4 text-lead">
      {bars > 1 ? 'The bars weigh' : 'Poured, the bar weighs'}
      <Word
        bind:value={f.out}
        label="The bar weighs"
        field="out"
        placeholder={bars > 1 ? 'one; the other' : 'how much'}
        {mistakes}
      /> g, <Word
        bind:value={f.over}
        label="Ran over"
        field="over"
        placeholder="nothing"
        {mistakes}
      /> g ran over.
      {#if outbox.from('/melt').length}<span class="text-flame-text">It is on its way.</span>
      {:else if session.may('book')}<button
          type="button"
          class="btn btn-primary text-body"
          onclick={() => void book()}>Into the drawer</button
        >{/if}
    </p>
  {/if}
{/if}

<style>
  .lead {
    display: grid;
    gap: 1rem 3rem;
    align-items: start;
  }
  .pick {
    display: grid;
    grid-template-columns: 24rem 9rem 1fr;
    gap: 0.2rem 1.4rem;
    align-items: baseline;
    font-size: var(--text-body);
  }
  input[type='checkbox'] {
    accent-color: var(--color-primary);
    width: 18px;
    height: 18px;
    vertical-align: -3px;
  }
  @media (min-width: 1000px) {
    .lead {
      grid-template-columns: 430px minmax(0, 1fr);
    }
  }
  @media (max-width: 760px) {
    .pick {
      grid-template-columns: 1fr;
    }
  }
</style>
