<script lang="ts">
  import { onMount } from 'svelte'

  import type { Catalogue } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { dueWords } from '$lib/text'
  import { session } from '$lib/session.svelte'
  import { countWords } from './bars'
  import { ALL, CutState, THESE } from './cut.svelte'
  import CutBars from './CutBars.svelte'
  import CutSheets from './CutSheets.svelte'

  interface Props {
    catalogue: Catalogue
    cut: CutState
    onbooked: () => void
  }
  let { catalogue, cut, onbooked }: Props = $props()
  const made = $derived(cut.live.answer)
  const plan = $derived(made?.plan)
  const pieces = $derived(
    plan
      ? new Set([...plan.pieces.map((p) => p.stock_id), ...plan.strips.map((s) => s.sheet_id)]).size
      : 0,
  )
  const blanks = $derived(
    plan ? [...plan.pieces, ...plan.strips].reduce((sum, one) => sum + one.cuts.length, 0) : 0,
  )
  const WHEN = [
    { key: '3', title: 'what is due in three days' },
    { key: '7', title: 'what is due this week' },
    { key: '14', title: 'what is due in two weeks' },
    { key: ALL, title: 'all that is open' },
    { key: THESE, title: 'what is chosen below' },
  ]
  const stock = $derived(
    (cut.groups?.groups ?? []).map((one) => ({
      key: one.key,
      title: one.owner ? `${one.title}, ${one.owner}’s own` : one.title,
    })),
  )
  const others = $derived((cut.groups?.group_count ?? 0) - stock.length)
  const saws = $derived([
    ...catalogue.blades.map((one) => ({ key: one.key, title: `the ${one.title}` })),
    { key: 'shears', title: 'the shears' },
  ])
  const paper = $derived(
    new URLSearchParams(
      Object.entries(cut.body()).flatMap(([name, value]): [string, string][] =>
        value === null || value === ''
          ? []
          : Array.isArray(value)
            ? value.map((one): [string, string] => [name, String(one)])
            : [[name, String(value)]],
      ),
    ).toString(),
  )
  onMount(() => {
    void cut.begin()
    return () => cut.live.stop()
  })
  $effect(() => cut.draft.keep())
  $effect(() => cut.ask())
  async function book() {
    if (await cut.book()) onbooked()
  }
</script>

{#if cut.groups && stock.length}
  <section aria-label="The cut plan" data-testid="cut-sheet">
    <p class="text-order leading-[1.7]">
      Cut <Choose
        bind:value={() => cut.when, (v) => (cut.when = v)}
        label="What to cut"
        field="jobs"
        choices={WHEN}
        mistakes={cut.mistakes}
      /> from <Choose
        bind:value={() => cut.group, (v) => (cut.group = v)}
        label="From which stock"
        field="group"
        choices={stock}
        mistakes={cut.mistakes}
      /> with <Choose
        bind:value={() => cut.blade, (v) => (cut.blade = v)}
        label="Saw or shears"
        field="blade"
        choices={saws}
        mistakes={cut.mistakes}
      />{#if made && blanks && !cut.stale}: <span class="font-medium" data-testid="cut-counts"
          >{countWords(blanks, 'blank')} from {countWords(
            pieces,
            made.group.sheet ? 'sheet' : 'piece',
          )}</span
        >{/if}.
    </p>
    {#if others > 0}
      <p class="text-soft text-note">
        {others === 1 ? 'One more stock is' : `${others} more stocks are`} in the drawer that nothing
        waits for.
      </p>
    {/if}
    <DraftSays draft={cut.draft} />
    <Mistakes mistakes={cut.mistakes} />
    {#if made}
      {#if blanks}
        <p class={['text-blue mt-1 text-body', cut.stale && 'stale', 'eased']}>
          <Say text={made.says.join(' ')} />
          {#if made.kerf_text}<span class="text-soft">{made.kerf_text} for each cut.</span>{/if}
        </p>
        <div class="mt-4">
          {#if made.group.sheet}<CutSheets {made} stale={cut.stale} />{:else}<CutBars
              {made}
              stale={cut.stale}
            />{/if}
        </div>
        <p class="text-soft mt-1 text-note">
          Square <Word
            bind:value={() => cut.trim, (v) => (cut.trim = v)}
            label="Lost to square an end"
            field="end_trim_mm"
            placeholder="nothing"
            mistakes={cut.mistakes}
          /> off the left end, {made.scribe}.
          <a class="quiet" href={`/api/stock/plan.pdf?${paper}`} target="_blank"
            >true size on paper</a
          >
        </p>
        <p class="mt-3">
          {#if outbox.from('/drawer').length}<span class="text-flame-text">It is on its way.</span>
          {:else if session.may('book')}<button
              type="button"
              class="btn btn-primary text-lead"
              disabled={cut.busy || cut.stale}
              onclick={() => void book()}>Cut them: book it</button
            >{/if}
        </p>
      {:else}
        <p class="text-soft mt-2 text-lead" data-testid="nothing-to-cut">
          Nothing is waiting to be cut from it{cut.when === ALL ? '' : ' by then'}.
          {#if cut.when !== ALL}<button type="button" class="quiet" onclick={() => (cut.when = ALL)}
              >all that is open</button
            >{/if}
        </p>
      {/if}
      {#if made.left_out.length}
        <ul class="mt-3 text-body" aria-label="Not in this plan">
          {#each made.left_out as one (one.key + one.why)}
            <li class="text-flame-text">
              <a class="quiet" href={`/job/${one.job_id}`}>{one.job_name}</a>, {one.title}
              {one.length_text}: {one.why}
            </li>
          {/each}
          {#if made.left_out_count > made.left_out.length}
            <li class="text-flame-text">
              and {made.left_out_count - made.left_out.length} more
            </li>
          {/if}
        </ul>
      {/if}
    {/if}
    {#if cut.when === THESE && cut.chosen}
      <ul class="mt-3 flex flex-wrap gap-x-6 gap-y-1 text-body" aria-label="Choose jobs">
        {#each cut.chosen.wanted as one (one.key)}
          <li>
            <label class="cursor-pointer">
              <input
                type="checkbox"
                checked={cut.picked.includes(one.job_id)}
                onchange={() => cut.pick(one.job_id)}
              />
              {one.job_name}
              <span class="text-soft">{one.length_text}, {dueWords(one.due, clock.now)}</span>
            </label>
          </li>
        {:else}
          <li class="text-soft">No open job wants this stock.</li>
        {/each}
        {#if cut.chosen.wanted_count > cut.chosen.wanted.length}
          <li class="text-flame-text">
            {cut.chosen.wanted_count - cut.chosen.wanted.length} more are not shown here
          </li>
        {/if}
      </ul>
    {/if}
  </section>
{/if}

<style>
  input {
    accent-color: var(--color-primary);
    width: 18px;
    height: 18px;
    vertical-align: -3px;
  }
</style>
