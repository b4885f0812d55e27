<script lang="ts">
  import { api, ask, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import { length } from '$lib/length.svelte'
  import { session } from '$lib/session.svelte'

  /** What a practice has come to so far: each round drawn, and one's own hand, to be made one's setting. */
  let { job }: { job: Job } = $props()
  let read = $state.raw<Schemas['PracticeOut'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  let busy = $state(false)
  let taken = $state(false)

  $effect(() => {
    void job.measures // asked anew with every reading
    const stop = new AbortController()
    void ask(
      api.GET('/api/jobs/{job_id}/practice', {
        params: { path: { job_id: job.id } },
        signal: stop.signal,
      }),
    ).then((answer) => {
      if (!answer || stop.signal.aborted) return
      if (answer.problem) mistakes = answer.problem.errors
      else [read, mistakes] = [answer.data, []]
    })
    return () => stop.abort()
  })

  async function take() {
    if (!read?.so_far.hand || busy) return
    busy = true
    const answer = await outbox.send<Schemas['PracticeOut']>({
      method: 'PUT',
      path: `/api/jobs/${job.id}/practice/hand`,
      body: { sd_mm: read.so_far.hand.sd_mm, version: read.mine_version },
      says: 'your scatter in cutting',
      where: `/job/${job.id}`,
    })
    busy = false
    if (answer.problem) {
      mistakes = answer.problem.errors
      return
    }
    ;[read, mistakes, taken] = [answer.data, [], true]
    const ways = await ask(api.GET('/api/ways'))
    if (ways?.data) await session.follow(ways.data.now)
  }
  /** How wide it can be drawn: its words are as large on a phone as on a bench screen. */
  let room = $state(0)
  const HIGH = 110
  const so = $derived(read?.so_far)
  const step = $derived(Math.min(60, Math.max(24, (room - 20) / (so?.rounds ?? 1))))
  const wide = $derived((so?.rounds ?? 0) * step + 20)
  const x = (round: number) => (round - 0.5) * step
  const y = (mm: number) =>
    HIGH / 2 - (Math.max(-1, Math.min(1, mm / (so?.scale_mm ?? 1))) * (HIGH - 24)) / 2
  const drawnSays = $derived(so?.dots.map((dot) => `round ${dot.round}: ${dot.says}`).join('; '))
</script>

{#if so}
  <section class="mt-8" aria-label="So far" data-testid="so-far" bind:clientWidth={room}>
    <h2 class="text-lead font-semibold">So far</h2>
    <svg
      viewBox={`0 0 ${wide} ${so.exercise === 'cuts' ? HIGH + 18 : 60}`}
      role="img"
      aria-label={drawnSays || 'No round is read yet.'}
      style:width={`${wide}px`}
    >
      {#if so.exercise === 'cuts'}
        <line x1="0" y1={y(0)} x2={wide} y2={y(0)} class="line" />
        {#if so.hand}
          <rect
            x="0"
            width={wide}
            y={y(so.hand.sd_mm)}
            height={y(-so.hand.sd_mm) - y(so.hand.sd_mm)}
            class="band"
          />
        {/if}
        <text x={wide} y={y(0) - 4} class="tick" text-anchor="end"
          >{job.now?.blanks[0]?.cut_text}</text
        >
        {#each so.dots as dot (dot.round)}
          <line
            x1={x(dot.round)}
            x2={x(dot.round)}
            y1={y(0)}
            y2={y(dot.off_mm ?? 0)}
            class="stem"
          />
          <circle
            cx={x(dot.round)}
            cy={y(dot.off_mm ?? 0)}
            r="5"
            class={['dot', !dot.mine && 'theirs']}
          />
          <text x={x(dot.round)} y={HIGH + 14} class="tick" text-anchor="middle"
            >{(dot.off_mm ?? 0) > 0 ? '+' : (dot.off_mm ?? 0) < 0 ? '−' : ''}{length(
              Math.abs(dot.off_mm ?? 0),
            )}</text
          >
        {/each}
      {:else}
        {#each Array(so.rounds).keys() as n (n)}
          {@const dot = so.dots.find((one) => one.round === n + 1)}
          <circle cx={x(n + 1)} cy="22" r="11" class={dot ? (dot.good ? 'good' : 'gap') : 'open'} />
          <text x={x(n + 1)} y="52" class="tick" text-anchor="middle">{n + 1}</text>
        {/each}
      {/if}
    </svg>
    {#if so.exercise !== 'cuts'}
      <ul class="mt-1">
        {#each so.dots as dot (dot.round)}
          <li class={dot.good ? '' : 'text-flame-text'}>{dot.round}: <Say text={dot.says} /></li>
        {/each}
      </ul>
    {/if}
    {#each so.says as line (line)}<p class="mt-1"><Say text={line} /></p>{/each}
    {#if so.offered}
      <p class="text-blue mt-2 text-lead" data-testid="offered">
        <Say text={so.offered} />
        <button type="button" class="quiet ml-3" disabled={busy} onclick={() => void take()}
          >make it mine</button
        >
      </p>
    {:else if taken}
      <p class="text-blue mt-2" role="status">It is yours now: {session.who?.name ?? ''}.</p>
    {/if}
    <Mistakes {mistakes} />
  </section>
{:else}<Mistakes {mistakes} />{/if}

<style>
  svg {
    display: block;
    max-width: 100%;
    height: auto;
    margin-top: 0.5rem;
  }
  .line {
    stroke: var(--color-base-content);
    stroke-width: 1;
  }
  .stem {
    stroke: var(--soft);
    stroke-width: 1;
  }
  .band {
    fill: var(--color-primary);
    opacity: 0.12;
  }
  .dot {
    fill: var(--color-primary);
  }
  .theirs {
    fill: none;
    stroke: var(--color-primary);
  }
  .good {
    fill: var(--color-base-content);
  }
  .gap {
    fill: none;
    stroke: var(--flame-text);
    stroke-width: 3;
    stroke-dasharray: 58 12;
  }
  .open {
    fill: none;
    stroke: var(--hairline);
    stroke-width: 1.5;
  }
  .tick {
    fill: var(--soft);
    font-size: 11px;
    font-family: var(--font-figure);
  }
</style>
