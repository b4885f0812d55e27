<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { whenWords } from '$lib/text'

  /** How safe the records are: the last backup, what would be lost now, what is wrong with it. */
  let found = $state.raw<Schemas['Keeping'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  onMount(async () => {
    const answer = await ask(api.GET('/api/keeping'))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) found = answer.data
  })
  const megabytes = (bytes: number) => (bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)
  const lost = $derived(found ? `${found.lost_more ? 'more than ' : ''}${found.lost}` : '')
</script>

<section aria-label="Safe keeping" data-testid="keeping">
  <h2 class="text-lead">Safe keeping</h2>
  <Mistakes {mistakes} />
  {#if found}
    <p class="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2">
      <BigFigure
        figure={lost}
        unit={found.lost === 1 ? 'change' : 'changes'}
        label="Would be lost now"
        size="step"
      />
      <span class="max-w-[30rem] text-lead leading-[1.4]">
        {#if found.at}
          would be lost if the machine were lost now: the last backup was made
          {whenWords(found.at, clock.now)}.
        {:else}
          would be lost if the machine were lost now: no backup was ever made.
        {/if}
      </span>
    </p>
    {#if found.at}
      <p class="mt-4 text-body">
        {found.name}, {megabytes(found.size)} MB, {found.encrypted ? 'encrypted' : 'not encrypted'}:
        loaded into an empty server and looked through after it was made.
      </p>
      {#each found.said as one (one)}
        <p class="text-flame-text mt-1 text-body">{one}</p>
      {/each}
    {/if}
    {#if found.restored_at && found.restored_of}
      <p class="text-soft mt-4 text-body">
        The records were set back {whenWords(found.restored_at, clock.now)} to a backup made
        {whenWords(found.restored_of, clock.now)}.
      </p>
    {/if}
    <h3 class="mt-6 text-lead">The whole workshop, to take along</h3>
    <p class="mt-2 max-w-[46rem] text-body">
      <a class="quiet" href="/api/keeping/workshop.zip" download data-testid="take-out">
        Take it all out as one archive</a
      >: every ring, customer, piece and photograph in open formats, as it stands now. No passwords
      are in it, but names and prices are, and it is not encrypted: keep it as you keep the books.
    </p>
    <p class="text-soft mt-4 max-w-[46rem] text-body">
      On the machine itself <span class="text-ink">plain-shank backup</span> makes a backup now,
      <span class="text-ink">plain-shank backups</span> lists them,
      <span class="text-ink">plain-shank restore</span> puts one back;
      <span class="text-ink">plain-shank workshop-in</span> brings an archive in, beside who is there.
    </p>
  {/if}
</section>
