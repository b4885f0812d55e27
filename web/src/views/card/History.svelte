<script lang="ts">
  import { api, ask, type Job, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { Pages } from '$lib/pages.svelte'
  import { whenWords } from '$lib/text'
  import { told } from './history'

  let { job }: { job: Job } = $props()
  const lines = new Pages<Schemas['EventOut']>()

  // the job has changed: read its history again from the newest line
  $effect(() => {
    const path = { job_id: job.id }
    void lines.begin((offset) =>
      ask(api.GET('/api/jobs/{job_id}/history', { params: { path, query: { offset } } })),
    )
  })
</script>

<section class="border-hairline mt-3 border-y py-2" aria-label="History" data-testid="history">
  <Mistakes mistakes={lines.mistakes} />
  <ol class="max-h-[19rem] overflow-y-auto text-note">
    {#each lines.items as line (line.id)}
      <li class="grid gap-x-4 py-0.5 sm:grid-cols-[11rem_9rem_minmax(0,1fr)]">
        <span class="text-soft">{whenWords(line.at, clock.now)}</span>
        <span class="text-soft">{line.by}</span>
        <span><Say text={told(line, clock.now)} /></span>
      </li>
    {/each}
  </ol>
  {#if lines.more}
    <button type="button" class="quiet text-note" onclick={() => lines.go()}
      >{lines.items.length} of {lines.count}: go on</button
    >
  {/if}
</section>
