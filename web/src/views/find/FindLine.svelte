<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { finding } from '$lib/finding.svelte'
  import Outside from '$lib/parts/Outside.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { Live } from '$lib/live.svelte'
  import { Pages } from '$lib/pages.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { dueWords } from '$lib/text'

  let words = $state('')
  const found = new Pages<Schemas['JobLine']>()
  const live = new Live<null>(80)
  let at = $state(0)
  let field: HTMLInputElement | undefined = $state()
  const here = $derived(found.items[at])
  const places = $derived(session.catalogue?.places ?? [])

  let dialog: HTMLDialogElement | undefined = $state()
  onMount(() => {
    dialog?.showModal()
    field?.focus()
  })
  $effect(() => {
    // a code that was scanned is the address of its job
    const q = words.trim().replace(/^.*\/ticket\/(\d+)$/, '#$1')
    if (!q) {
      live.stop()
      found.clear()
      return
    }
    return live.want(async (signal) => {
      await found.begin((offset) =>
        ask(api.GET('/api/jobs/find', { params: { query: { q, offset } }, signal })),
      )
      at = 0
      return undefined
    })
  })
  function open(id: number | undefined) {
    if (!id) return
    finding.open = false
    router.go(`/job/${id}`)
  }
  function keyed(event: KeyboardEvent) {
    const last = found.items.length - 1
    if (event.key === 'ArrowDown') at = Math.min(last, at + 1)
    else if (event.key === 'ArrowUp') at = Math.max(0, at - 1)
    else if (event.key === 'Enter') open(here?.id)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const where = (job: Schemas['JobLine']) =>
    job.closed_at
      ? `off the bench ${dueWords(job.closed_at, clock.now)}`
      : (places.find((one) => one.key === job.place)?.title ?? dueWords(job.due, clock.now))
</script>

<dialog
  bind:this={dialog}
  aria-label="Find a job"
  class="modal modal-top"
  data-testid="find"
  onclose={() => (finding.open = false)}
>
  <div class="modal-box border-b-2">
    <p class="text-order leading-[1.6]">
      Find <input
        bind:this={field}
        bind:value={words}
        class="word"
        role="combobox"
        aria-label="Name, number or ticket"
        aria-expanded={found.items.length > 0}
        aria-controls="found-jobs"
        aria-activedescendant={here ? `found-${here.id}` : undefined}
        placeholder="name, number or ticket"
        autocomplete="off"
        spellcheck="false"
        maxlength="120"
        onkeydown={keyed}
      />
      <button type="button" class="quiet ml-6 text-note" onclick={() => dialog?.close()}
        >close</button
      >
    </p>
    <Mistakes mistakes={found.mistakes} />
    <div
      id="found-jobs"
      role="listbox"
      aria-label="Jobs found"
      class="mt-2 max-h-[60vh] overflow-y-auto"
    >
      {#each found.items as job, i (job.id)}
        <div
          id={`found-${job.id}`}
          role="option"
          tabindex="-1"
          aria-selected={i === at}
          class={['row', i === at && 'here']}
          onclick={() => open(job.id)}
          onkeydown={(event) => event.key === 'Enter' && open(job.id)}
        >
          <span class="figure text-lead">{job.number}</span>
          <span class="font-medium"
            >{job.customer_name ? `${job.customer_name}, ` : ''}{job.title}{job.ticket
              ? ` (${job.ticket})`
              : ''}</span
          >
          <span><Say text={job.summary} /></span>
          <span>{where(job)}</span>
        </div>
      {/each}
    </div>
    {#if found.read && !found.items.length}<p class="mt-2">No job has that.</p>{/if}
    {#if found.more}
      <button type="button" class="quiet mt-1" onclick={() => found.go()}
        >{found.items.length} of {found.count}: go on</button
      >
    {/if}
  </div>
  <Outside onclose={() => dialog?.close()} />
</dialog>

<style>
  .row {
    display: grid;
    grid-template-columns: 4.5rem 1.3fr 1.4fr 1fr;
    gap: 0.2rem 1.2rem;
    padding: 0.42rem 0.4rem;
    align-items: baseline;
    cursor: pointer;
  }
  .row:hover {
    background: var(--wash);
  }
  .here,
  .here:hover {
    background: var(--color-primary);
    color: var(--color-primary-content);
  }
  @media (max-width: 760px) {
    .row {
      grid-template-columns: 4.5rem 1fr;
    }
    .row > :nth-child(n + 3) {
      grid-column: 2;
    }
  }
</style>
