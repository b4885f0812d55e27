<script lang="ts">
  import { untrack } from 'svelte'

  import { api, ask, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { caliper } from '$lib/caliper.svelte'
  import { gauges } from '$lib/gauges.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { session } from '$lib/session.svelte'
  import { withUnit } from '$lib/units'

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
  const units = $derived(session.who?.ways?.caliper_units ?? 'mm')
  const unit = $derived(asked.kind === 'length' ? units : asked.kind === 'mass' ? 'g' : '')
  const planned = $derived(gauges.list.find((one) => one.name === job.plan.gauge?.name)?.id)

  let text = $state(untrack(() => kept?.text ?? ''))
  let gauge = $state(untrack(() => first()))
  let mistakes = $state.raw<Mistake[]>([])

  /** The gauge it was read on; else the one that the plan was made for; else the last one used here. */
  function first(): string {
    if (kept) return kept.gauge_id ? String(kept.gauge_id) : ''
    return planned ? String(planned) : (localStorage.getItem(GAUGE) ?? '')
  }

  async function keep() {
    const same = text === (kept?.text ?? '') && (!isSize || gauge === String(kept?.gauge_id ?? ''))
    if (same || (!text && !kept)) return true
    const path = { job_id: job.id, key: asked.key }
    const length = asked.kind === 'length'
    const body = {
      text: length ? withUnit(text, units) : text,
      gauge_id: isSize && gauge ? Number(gauge) : null,
      gauge_name: '',
      zero_mm: length ? withUnit(caliper.zero || '0', units) : 0,
    }
    if (isSize) localStorage.setItem(GAUGE, gauge)
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
      on <select
        class="word"
        bind:value={gauge}
        aria-label={`Gauge of ${asked.title}`}
        onchange={() => text && keep()}
      >
        {#each gauges.choices as choice (choice.key)}
          <option value={choice.key}>{choice.title}</option>
        {/each}
      </select>
    </label>
  {/if}
  {#if verdict && !mistakes.length}
    <span
      class={['ml-3 text-[19px]', verdict.tone === 'act' ? 'text-flame-text' : 'text-blue']}
      data-verdict={asked.key}><Say text={verdict.says} /></span
    >
  {/if}
  {#if kept?.zero_mm}
    <span class="text-soft ml-3 text-[16px]">zero {kept.zero_mm.toFixed(2)} taken off</span>
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
