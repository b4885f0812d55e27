<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { isAway, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { caliper } from '$lib/caliper.svelte'
  import { clock } from '$lib/clock.svelte'
  import { Draft } from '$lib/draft.svelte'
  import { gauges } from '$lib/gauges.svelte'
  import { length } from '$lib/length.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { asTyped, unitBehind, whenWords } from '$lib/text'

  import type { Card } from './card.svelte'

  interface Props {
    card: Card
    job: Job
    asked: Schemas['MeasureAsk']
    ondone: () => void
  }
  let { card, job, asked, ondone }: Props = $props()
  const GAUGE = 'last-gauge'
  const kept = $derived(job.measures.find((measure) => measure.key === asked.key))
  const verdict = $derived(job.verdicts.find((one) => one.key === asked.key))
  const isSize = $derived(asked.kind === 'size')
  const units = $derived(session.who?.ways?.caliper_units ?? 'mm')
  const unit = $derived(asked.kind === 'length' ? units : asked.kind === 'mass' ? 'g' : '')
  const gauged = $derived(job.plan && 'gauge' in job.plan ? job.plan.gauge : null)
  const planned = $derived(gauges.list.find((one) => one.name === gauged?.name)?.id)

  const written = $derived(asTyped(kept?.text ?? '', units))
  let text = $state(untrack(() => written))
  let gauge = $state(untrack(() => first()))
  let mistakes = $state.raw<Mistake[]>([])

  const path = $derived(`/api/jobs/${job.id}/measures/${asked.key}`)
  const pending = $derived(outbox.onTheirWay.findLast((item) => item.path === path))
  const draft = new Draft(
    untrack(() => `job/${job.id}/measure/${asked.key}`),
    () => ({ text, gauge }),
    (typed) => ({ text, gauge } = typed),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  // what was on its way has arrived, or a colleague read it anew: a field that nobody touched shows it
  let seen = untrack(() => written)
  $effect(() => {
    const now = written
    untrack(() => {
      if (now === seen) return
      if (text === seen) {
        text = now
        gauge = first()
        draft.done()
      }
      seen = now
    })
  })

  /** The gauge it was read on; else the one that the plan was made for; else the last one used here. */
  function first(): string {
    if (kept) return kept.gauge_id ? String(kept.gauge_id) : ''
    return planned ? String(planned) : (localStorage.getItem(GAUGE) ?? '')
  }

  async function keep() {
    const same = text === written && (!isSize || gauge === String(kept?.gauge_id ?? ''))
    const sent = pending && (pending.body as { text: string }).text === text
    if (same || sent || (!text && !kept)) return true
    const body = {
      text,
      gauge_id: isSize && gauge ? Number(gauge) : null,
      gauge_name: '',
      typed_in: units,
      zero_mm: asked.kind === 'length' ? caliper.zero || '0' : 0,
    }
    if (isSize) localStorage.setItem(GAUGE, gauge)
    const typed = text
    const answer = await card.send({
      method: 'PUT',
      path,
      body,
      says: `${job.customer_name || job.title}: ${asked.title} ${text}`,
      slot: draft.slot,
    })
    if (answer.problem) {
      mistakes = isAway(answer.problem.status) ? [] : answer.problem.errors
      card.mistakes = []
      return isAway(answer.problem.status)
    }
    mistakes = []
    if (text === typed) draft.done()
    return true
  }
  async function answered(said: string) {
    text = said
    if (await keep()) ondone()
  }
  async function entered(event: KeyboardEvent) {
    if (event.key !== 'Enter') return
    event.preventDefault()
    if (await keep()) ondone()
  }
</script>

<div>
  {#if asked.kind === 'yes-no'}
    <span role="group" class="text-lead" aria-label={asked.title}>
      {asked.title}
      {#each ['no', 'yes'] as said (said)}
        <button
          type="button"
          class={['answer', text === said && 'chosen']}
          aria-pressed={text === said}
          data-measure={said === 'no' ? asked.key : undefined}
          onclick={() => answered(said)}>{said}</button
        >
      {/each}
    </span>
  {:else}
    <label class="text-lead">
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
      />{unitBehind(text, unit)}
    </label>
  {/if}
  {#if isSize}
    <label class="text-lead">
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
  {#if pending}
    <span class="text-flame-text ml-3 text-note">on its way, not judged yet</span>
  {:else if verdict && !mistakes.length && kept && text === written}
    <span
      class={['ml-3 text-lead', verdict.tone === 'act' ? 'text-flame-text' : 'text-blue']}
      data-verdict={asked.key}><Say text={verdict.says} /></span
    >
    {#if job.for_customer && verdict.tone !== 'good' && (isSize || asked.key.startsWith('cut-length'))}
      <a
        class="quiet ml-3 text-note"
        href={`/logbook/${job.id}`}
        onclick={(event) => {
          event.preventDefault()
          router.go(`/logbook/${job.id}`)
          router.mark = asked.key
        }}>why?</a
      >
    {/if}
  {/if}
  {#if kept?.zero_mm}
    <span class="text-soft ml-3 text-note">zero {length(kept.zero_mm)} taken off</span>
  {/if}
  {#if kept && kept.readings > 1}
    <span class="text-soft ml-3 text-note"
      >read {kept.readings} times; this one {whenWords(kept.at, clock.now)}{kept.by
        ? `, ${kept.by}`
        : ''}</span
    >
  {/if}
  {#if draft.since && !pending && text !== written}
    <span class="text-soft ml-3 text-note" data-testid="picked-up"
      >picked up as you left it, not kept yet</span
    >
  {/if}
  <Mistakes {mistakes} />
</div>

<style>
  .figure-word {
    font-family: var(--font-figure);
    font-size: var(--text-title);
    min-width: 2.4em;
  }
  .answer {
    min-width: 3.4em;
    min-height: 44px;
    margin-left: 0.5rem;
    border-bottom: 2px solid var(--color-hairline);
    font-size: var(--text-lead);
    cursor: pointer;
  }
  .answer.chosen {
    border-color: var(--color-blue);
    background: var(--color-wash);
    color: var(--color-blue);
  }
</style>
