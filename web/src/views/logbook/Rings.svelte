<script lang="ts">
  import { api, ask, type Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import { Live } from '$lib/live.svelte'
  import { Pages } from '$lib/pages.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { dayWords } from '$lib/text'
  import { session } from '$lib/session.svelte'

  type Ring = Schemas['RingLine'] & { id: number }
  let q = $state('')
  let sort = $state('newest')
  let sorts = $state.raw<Schemas['Option'][]>([])
  const found = new Pages<Ring>()
  const live = new Live<null>(120)
  $effect(() => {
    const query = { q, sort }
    return live.want(async (signal) => {
      await found.begin(async (offset) => {
        const answer = await ask(
          api.GET('/api/logbook', { params: { query: { ...query, offset } }, signal }),
        )
        if (!answer?.data) return answer?.problem ? answer : undefined
        sorts = answer.data.sorts
        const items = answer.data.items.map((one) => ({ ...one, id: one.job_id }))
        return { data: { items, count: answer.data.count }, problem: null }
      })
      return undefined
    })
  })
  const year = (at: string) =>
    at.slice(0, 4) === String(new Date().getFullYear()) ? '' : at.slice(0, 4)
  const file = (kind: 'csv' | 'json') => `/api/logbook/rings.${kind}?q=${encodeURIComponent(q)}`
</script>

<section class="mt-8 border-t border-hairline pt-4" aria-label="The rings">
  <div class="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-1">
    <h2 class="text-order leading-[1.9]">
      The rings <Word
        bind:value={q}
        label="Find rings"
        field="q"
        most={200}
        placeholder="half-round sterling large"
      />,
      <select
        class="word"
        value={sort}
        aria-label="Sorted"
        onchange={(event) => (sort = event.currentTarget.value)}
      >
        {#each sorts as one (one.key)}<option value={one.key}>{one.title}</option>{/each}
      </select>{#if found.read}: {found.count}{/if}
    </h2>
    <p class="flex gap-5">
      <a class="quiet" href="/why">why did a ring come out wrong?</a>
      {#if session.may('export')}
        <a class="quiet" href={file('csv')} download>CSV</a>
        <a class="quiet" href={file('json')} download>JSON</a>
      {/if}
    </p>
  </div>
  <Mistakes mistakes={found.mistakes} />
  {#if found.count}
    <p class="row head text-soft mt-2 text-small" aria-hidden="true">
      <span></span><span>for</span><span>what</span><span>cut</span><span>inside</span><span
        class="off">came out</span
      >
    </p>
  {/if}
  <ul>
    {#each found.items as ring (ring.id)}
      <li>
        <a class="row" href={`/logbook/${ring.id}`}>
          <span class="text-soft">{dayWords(ring.at.slice(0, 10))} {year(ring.at)}</span>
          <span class="font-medium">{ring.customer_name || ring.title}</span>
          <span><Say text={`${ring.what}, ${ring.size_text}`} /></span>
          <span class="text-soft">
            {#if ring.cut_read_mm !== null && ring.cut_planned_mm !== null}
              {length(ring.cut_planned_mm, 1)}, cut {length(ring.cut_read_mm, 2)}
            {/if}
          </span>
          <span class="text-soft">
            {#if ring.size_read_mm !== null && ring.size_planned_mm !== null}
              {length(ring.size_planned_mm)}, read {length(ring.size_read_mm)}
            {/if}
          </span>
          <span
            class={[
              'off',
              !ring.verdict && !ring.came_back && 'unread',
              ring.verdict !== 'right' && ring.verdict && 'text-flame-text',
            ]}>{ring.came_back ? 'came back' : ring.off_text || 'not read'}</span
          >
        </a>
      </li>
    {/each}
  </ul>
  {#if found.read && !found.count}
    <p class="text-soft mt-2">
      {q ? 'No ring has all of these words.' : 'Nothing was measured on a card yet.'}
    </p>
  {/if}
  {#if found.more}
    <button type="button" class="quiet mt-3" onclick={() => void found.go()}
      >{found.count - found.items.length} more</button
    >
  {/if}
</section>

<style>
  .row {
    display: grid;
    grid-template-columns: 6.4rem minmax(7rem, 1fr) minmax(11rem, 2fr) 9.5rem 11rem 6.5rem;
    gap: 0 1.2rem;
    align-items: baseline;
    border-bottom: 1px solid var(--hairline);
    padding-block: 0.5rem;
    min-height: 44px;
  }
  .row:hover,
  .row:focus-visible {
    background: var(--wash);
  }
  .off {
    text-align: right;
    font-weight: 500;
  }
  .head {
    min-height: 0;
  }
  .head .off {
    font-weight: 400;
  }
  .unread {
    color: var(--soft);
    font-weight: 400;
  }
  @media (max-width: 1000px) {
    .head {
      display: none;
    }
    .row {
      grid-template-columns: 1fr auto;
    }
    .row > :nth-child(3) {
      grid-column: 1 / -1;
    }
  }
</style>
