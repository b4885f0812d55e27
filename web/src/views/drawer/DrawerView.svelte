<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Catalogue, type Mistake, type Schemas } from '$lib/api/client'
  import { outbox } from '$lib/outbox.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { Pages } from '$lib/pages.svelte'
  import { clock } from '$lib/clock.svelte'
  import { dueWords } from '$lib/text'
  import { session } from '$lib/session.svelte'
  import { CutState } from './cut.svelte'
  import CutSheet from './CutSheet.svelte'
  import SectionMark from './SectionMark.svelte'
  import TakeIn from './TakeIn.svelte'

  let { catalogue }: { catalogue: Catalogue } = $props()
  type Item = Schemas['ItemOut']
  const cut = new CutState()
  const pages = new Pages<Item>()
  let ever = $state(true)
  let q = $state('')
  let brought = $state('')
  let mistakes = $state.raw<Mistake[]>([])
  const goodFor = $derived(new Map(cut.groups?.groups.map((one) => [one.key, one.says])))
  const could = (item: Item) => cut.missing?.could[String(item.id)] ?? ''
  const waiting = (item: Item) =>
    (cut.groups?.groups.find((one) => one.key === item.group)?.wanted.length ?? 0) > 0
  const missing = $derived(cut.missing?.missing ?? [])

  onMount(() => void read())
  // what was booked while the server was away arrives later than somebody waited for it
  $effect(() =>
    outbox.listen((item) => {
      if (item.where !== '/drawer' && !item.where.startsWith('/drawer/')) return false
      cut.refused = []
      void renew()
      return true
    }),
  )
  /** A list that was asked for last is shown, whatever comes first. */
  let newest = 0
  async function read() {
    const now = ++newest
    const words = q
    await pages.begin(async (offset) => {
      const answer = await ask(api.GET('/api/stock', { params: { query: { q: words, offset } } }))
      if (now !== newest) return undefined
      if (answer?.data) ever = answer.data.ever
      return answer
    })
  }
  async function renew() {
    await Promise.all([read(), cut.read()])
  }
  type File = '/api/stock/items.csv' | '/api/stock/prices.csv'
  /** A file whose pieces are here already: what becomes of them is asked. */
  let asked = $state.raw<{ name: string; text: string; says: string } | null>(null)
  const KNOWN = [
    { key: 'leave', title: 'leave them as they are' },
    { key: 'count', title: 'count them anew by the file' },
    { key: 'new', title: 'take them in as new pieces' },
  ]
  async function file(event: Event, path: File) {
    const input = event.currentTarget as HTMLInputElement
    const chosen = input.files?.[0]
    if (!chosen) return
    const text = await chosen.text()
    input.value = ''
    await bring(path, chosen.name, text)
  }
  async function bring(path: File, name: string, text: string, known = '') {
    asked = null
    const answer = await outbox.send<{ count: number; counted?: number; left?: number }>({
      method: 'POST',
      path,
      body: known ? { text, known } : { text },
      says: `the file ${name}`,
      where: '/drawer/file',
    })
    const question = answer.problem?.errors.find((one) => one.field === 'known')
    brought = answer.data ? said(answer.data, name) : ''
    asked = question ? { name, text, says: question.message } : null
    mistakes = question ? [] : (answer.problem?.errors ?? [])
    if (answer.data) await renew()
  }
  function said(came: { count: number; counted?: number; left?: number }, name: string): string {
    const parts = [`${came.count} ${came.count === 1 ? 'row' : 'rows'} came in from ${name}`]
    if (came.counted) parts.push(`${came.counted} counted anew`)
    if (came.left) parts.push(`${came.left} left as they are`)
    return `${parts.join(', ')}.`
  }
  /** The same question about a file that was sent while the server was away. */
  const late = $derived(
    outbox.refused.find((one) => one.path === '/api/stock/items.csv' && one.refusedAt === 'known'),
  )
  async function settle(known: string) {
    const item = late
    if (!item) return
    const body = (await outbox.bodyOf(item)) as { text: string }
    outbox.drop(item.key)
    await bring('/api/stock/items.csv', item.says.replace('the file ', ''), body.text, known)
  }
</script>

<h1 class="sr-only">The drawer</h1>
<CutSheet {catalogue} {cut} onbooked={() => void read()} />

{#if cut.groups?.unreckoned}
  <p class="text-soft mt-3 text-note" role="status">
    What {cut.groups.unreckoned === 1
      ? 'one job wants is'
      : `${cut.groups.unreckoned} jobs want is`} still being worked out by this version: look again in
    a moment.
    <button type="button" class="quiet" onclick={() => void cut.read()}>look again</button>
  </p>
{/if}

<section aria-label="In the drawer" class="border-hairline mt-6 border-t pt-4">
  <div class="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-2">
    <h2 class="text-lead font-medium">In the drawer</h2>
    <p class="flex flex-wrap items-baseline gap-x-5 gap-y-1 text-note">
      <label class="sr-only" for="find-stock">Find in the drawer</label>
      <input
        id="find-stock"
        class="word"
        bind:value={q}
        placeholder="find: a metal, a lot, a tray"
        maxlength="80"
        oninput={() => void read()}
      />
      <a class="quiet" href="/mill">roll a bar down</a>
      <a class="quiet" href="/melt">melt scrap</a>
      {#if session.may('prices')}<a class="quiet" href="/worth">what it is worth</a>{/if}
    </p>
  </div>
  <ul class="mt-2" data-testid="drawer-list">
    {#each pages.items as item (item.id)}
      <li class="border-hairline border-b">
        <a href={`/drawer/${item.id}`} class="row hover:bg-wash">
          <SectionMark outline={item.outline} family={item.family} />
          <span class="font-semibold">{item.title}</span>
          <span class="text-soft">{item.metal_title}</span>
          <span
            >{item.called}{item.length_text ? `, ${item.length_text}` : ''}{item.place
              ? `, ${item.place}`
              : ''}</span
          >
          <span class="mass">{item.mass_g.toFixed(item.mass_g < 10 ? 2 : 1)} g</span>
          <span class={waiting(item) || could(item) ? '' : 'text-soft'}
            >{#if item.owner}only for {item.owner}{:else}{#if item.group && (waiting(item) || !could(item))}<Say
                  text={goodFor.get(item.group) ?? cut.groups?.others_say ?? ''}
                />{:else if item.counted === 'mass' && item.kind !== 'solder'}{item.state ===
                  'clean' || item.state === 'filings'
                  ? 'to melt'
                  : 'for the refiner'}{/if}{#if could(item)}<span class="block"
                  ><Say text={could(item)} /></span
                >{/if}{/if}</span
          >
        </a>
      </li>
    {:else}
      {#if pages.read}
        <li class="text-soft py-3 text-lead">
          {ever && q ? 'Nothing like that is in the drawer.' : ''}
          {#if !ever}The drawer is empty: take in the first wire, sheet or scrap below. Then it says
            what to cut from what.{:else if !q}Everything is used up.{/if}
        </li>
      {/if}
    {/each}
  </ul>
  <Mistakes mistakes={pages.mistakes} />
  {#if pages.more}
    <p class="mt-2">
      <button type="button" class="quiet" onclick={() => void pages.go()}
        >{pages.count - pages.items.length} more</button
      >
    </p>
  {/if}
</section>

{#if missing.length}
  <section aria-label="Not in the drawer" class="mt-7" data-testid="missing">
    <h2 class="text-lead font-medium">Not in the drawer</h2>
    <ul class="mt-1 max-w-[72rem]">
      {#each missing as one (one.blank.key)}
        <li class="border-hairline lacks border-t py-2">
          <span>
            <a class="quiet" href={`/job/${one.blank.job_id}`}>{one.blank.job_name}</a>
            <span class="text-soft">{dueWords(one.blank.due, clock.now)}</span>
          </span>
          <span>{one.blank.title} {one.blank.length_text} of {one.blank.why}</span>
          <ul class="text-note">
            {#each one.stock.ways.slice(0, 3) as way (way.key + way.ids.join())}
              <li><span class="font-medium">{way.title}</span>: <Say text={way.says} /></li>
            {/each}
            {#if one.stock.there.length}
              <li>from {one.stock.there.slice(0, 3).join(', ')}: file it to fit</li>
            {/if}
          </ul>
        </li>
      {/each}
    </ul>
    {#if cut.missing && cut.missing.missing_count > missing.length}
      <p class="text-flame-text mt-1 text-note">
        {cut.missing.missing_count - missing.length} more are not shown here: these are the first by their
        due date.
      </p>
    {/if}
  </section>
{/if}

{#if session.may('book')}
  <section aria-label="Into the drawer" class="mt-7">
    <TakeIn {catalogue} onkept={() => void renew()} />
  </section>
{/if}

<p class="mt-6 flex flex-wrap gap-x-6 gap-y-2 text-note">
  {#if session.may('export')}
    <a class="quiet" href="/api/stock/items.csv">the drawer as CSV</a>
    <a class="quiet" href="/api/stock/movements.csv">its movements</a>
  {/if}
  {#if session.may('prices')}<a class="quiet" href="/api/stock/prices.csv">metal prices</a>{/if}
  {#if session.may('book')}<label class="quiet cursor-pointer"
      >bring in pieces from CSV<input
        type="file"
        accept=".csv,text/csv"
        class="sr-only"
        onchange={(event) => void file(event, '/api/stock/items.csv')}
      /></label
    >{/if}
  {#if session.may('ways')}<label class="quiet cursor-pointer"
      >bring in prices<input
        type="file"
        accept=".csv,text/csv"
        class="sr-only"
        onchange={(event) => void file(event, '/api/stock/prices.csv')}
      /></label
    >{/if}
</p>
{#if asked || late}
  <div class="mt-3 max-w-[60rem]" role="alert" data-testid="known">
    <p class="text-body">
      <span class="font-medium">{asked?.name ?? late?.says}:</span>
      {asked?.says ?? late?.refused}
    </p>
    <p class="mt-1 flex flex-wrap gap-x-6 gap-y-2 text-note">
      {#each KNOWN as one (one.key)}
        <button
          type="button"
          class="quiet"
          onclick={() =>
            void (asked
              ? bring('/api/stock/items.csv', asked.name, asked.text, one.key)
              : settle(one.key))}>{one.title}</button
        >
      {/each}
      <button
        type="button"
        class="quiet"
        onclick={() => {
          if (!asked && late) outbox.drop(late.key)
          asked = null
        }}>do not bring it in</button
      >
    </p>
  </div>
{/if}
{#if brought}<p class="text-blue mt-1 text-note" role="status">{brought}</p>{/if}
<div aria-live="polite">
  {#each mistakes as one (one.field + one.message)}
    <p class="text-flame-text mt-1 text-note">
      {one.field.startsWith('rows.')
        ? `Row ${one.field.split('.')[1]}, ${one.field.split('.')[2]}: `
        : ''}{one.message}
      {one.hint}
    </p>
  {/each}
</div>

<style>
  .row {
    display: grid;
    grid-template-columns: 40px 13rem 9rem minmax(10rem, 1fr) 5.5rem minmax(12rem, 1.2fr);
    gap: 0.2rem 1.2rem;
    align-items: center;
    padding: 0.55rem 0;
    font-size: var(--text-body);
  }
  .mass {
    font-family: var(--font-figure);
    font-weight: 500;
    font-size: var(--text-lead);
    text-align: right;
  }
  .lacks {
    display: grid;
    grid-template-columns: 16rem 18rem 1fr;
    gap: 0.3rem 1.6rem;
    font-size: var(--text-body);
  }
  .quiet:focus-within {
    outline: 2px solid var(--color-primary);
    outline-offset: 3px;
  }
  @media (max-width: 900px) {
    .row {
      grid-template-columns: 40px 1fr auto;
    }
    .row > :nth-child(3) {
      grid-column: 2;
      grid-row: 2;
    }
    .row > :nth-child(4) {
      grid-column: 2 / -1;
    }
    .row > :nth-child(5) {
      grid-column: 3;
      grid-row: 1;
    }
    .row > :nth-child(6) {
      grid-column: 2 / -1;
    }
    .lacks {
      grid-template-columns: 1fr;
    }
  }
</style>
