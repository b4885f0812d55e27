<script lang="ts">
  import { untrack } from 'svelte'

  import { api, ask, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'

  interface Props {
    job: Job
    asked: Schemas['MeasureAsk']
    onkept: (job: Job) => void
    ondone: () => void
  }
  let { job, asked, onkept, ondone }: Props = $props()
  const GAUGE = 'last-gauge'
  const kept = $derived(job.measures.find((measure) => measure.key === asked.key))
  const verdict = $derived(job.verdicts.find((one) => one.key === asked.key))
  const isSize = $derived(asked.kind === 'size')
  const unit = $derived(asked.kind === 'length' ? 'mm' : asked.kind === 'mass' ? 'g' : '')

  let text = $state(untrack(() => kept?.text ?? ''))
  let gauge = $state(untrack(() => kept?.gauge_name ?? localStorage.getItem(GAUGE) ?? ''))
  let mistakes = $state.raw<Mistake[]>([])

  async function keep() {
    if (text === (kept?.text ?? '') && (!isSize || gauge === (kept?.gauge_name ?? ''))) return true
    const path = { job_id: job.id, key: asked.key }
    const body = { text, gauge_name: isSize ? gauge : '' }
    if (isSize && gauge) localStorage.setItem(GAUGE, gauge)
    const answer = await ask(
      api.PUT('/api/jobs/{job_id}/measures/{key}', { params: { path }, body }),
    )
    if (answer?.problem) {
      mistakes = answer.problem.errors
      return false
    }
    if (answer) {
      mistakes = []
      onkept(answer.data)
    }
    return true
  }

  async function entered(event: KeyboardEvent) {
    if (event.key !== 'Enter') return
    event.preventDefault()
    if (await keep()) ondone()
  }
</script>

<div>
  <label class="text-[21px]">
    {asked.title}
    <input
      class="word figure-word mx-1"
      data-measure={asked.key}
      bind:value={text}
      placeholder={asked.expected_text}
      aria-invalid={mistakes.length > 0}
      inputmode={isSize ? 'text' : 'decimal'}
      autocomplete="off"
      maxlength="80"
      onkeydown={entered}
      onblur={keep}
    />{unit}
  </label>
  {#if isSize}
    <label class="text-[19px]">
      on <input
        class="word"
        bind:value={gauge}
        placeholder="which gauge"
        aria-label={`Gauge of ${asked.title}`}
        autocomplete="off"
        maxlength="80"
        onkeydown={entered}
        onblur={() => text && keep()}
      />
    </label>
  {/if}
  {#if verdict && !mistakes.length}
    <span
      class={['ml-3 text-[19px]', verdict.tone === 'act' ? 'text-flame-text' : 'text-blue']}
      data-verdict={asked.key}><Say text={verdict.says} /></span
    >
  {/if}
  <Mistakes {mistakes} />
</div>

<style>
  .figure-word {
    font-family: var(--font-figure);
    font-size: 34px;
    min-width: 2.4em;
  }
</style>
