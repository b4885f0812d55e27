<script lang="ts">
  import { api, ask, isAway, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { outbox } from '$lib/outbox.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { Pages } from '$lib/pages.svelte'
  import { router } from '$lib/router.svelte'
  import { dueWords } from '$lib/text'

  let { onbrought }: { onbrought: () => void } = $props()
  let mistakes = $state.raw<Mistake[]>([])
  const off = new Pages<Schemas['JobLine']>()
  let picker: HTMLInputElement | undefined = $state()

  const LARGEST = 1_500_000

  async function bringIn() {
    const file = picker?.files?.[0]
    if (!file) return
    const data = await content(file)
    if (picker) picker.value = ''
    if (!data) {
      mistakes = [{ field: '', message: 'That file is not a job.', hint: 'Choose a ring-….json.' }]
      return
    }
    const answer = await outbox.send<Job>({
      method: 'POST',
      path: '/api/jobs/import',
      body: data,
      says: `the job file ${file.name}`,
      where: '/',
    })
    if (answer.problem) mistakes = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      onbrought()
      router.go(`/job/${answer.data.id}`)
    }
  }

  async function content(file: File): Promise<Record<string, unknown> | null> {
    if (file.size > LARGEST) return null
    try {
      const data: unknown = JSON.parse(await file.text())
      return data !== null && typeof data === 'object' ? (data as Record<string, unknown>) : null
    } catch {
      return null
    }
  }

  const showOff = () =>
    off.begin((offset) =>
      ask(api.GET('/api/jobs', { params: { query: { closed: true, offset } } })),
    )
</script>

<div class="text-soft mt-6 flex flex-wrap gap-x-8 gap-y-2">
  <input
    bind:this={picker}
    type="file"
    accept="application/json,.json"
    class="hidden"
    aria-label="Job file"
    onchange={bringIn}
  />
  <button type="button" class="quiet" onclick={() => picker?.click()}>Bring in a job file</button>
  <button type="button" class="quiet" onclick={() => showOff()}>Off the bench</button>
  <a class="quiet" href="/practice">Practise</a>
</div>
<Mistakes mistakes={[...mistakes, ...off.mistakes]} />
{#if off.read}
  <ul class="mt-3" aria-label="Off the bench">
    {#each off.items as job (job.id)}
      <li>
        <a class="quiet" href={`/job/${job.id}`}
          >{job.number}
          {job.customer_name ? `${job.customer_name}, ` : ''}{job.title}</a
        >
        <span class="text-soft">{dueWords(job.closed_at, new Date())}</span>
      </li>
    {:else}
      <li>Nothing yet: a job goes there when it is handed over.</li>
    {/each}
  </ul>
  {#if off.more}
    <button type="button" class="quiet" onclick={() => off.go()}
      >{off.items.length} of {off.count}: go on</button
    >
  {/if}
{/if}
