<script lang="ts">
  import { untrack } from 'svelte'

  import type { Job, Step } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { typed } from '$lib/length.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Figure from '$lib/parts/Figure.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import { whenWords } from '$lib/text'
  import type { Card } from '../card/card.svelte'
  import { JointState } from './joint.svelte'
  import { SPRING } from './seen'
  import Rows from './Rows.svelte'

  let { card, job, step }: { card: Card; job: Job; step: Step } = $props()
  const joint = untrack(() => new JointState(card, job, step.key))
  $effect(() => joint.draft.keep())
  $effect(() => joint.ask())
  // what was read on the stock, or done at a step before, moves what stands here
  $effect(() => {
    if (card.now) untrack(() => void joint.read())
  })

  const CHIP = [
    { key: 'chip.length_mm', label: 'Chip long', usual: typed(1) },
    { key: 'chip.width_mm', label: 'Chip wide', usual: typed(1) },
    { key: 'chip.thickness_mm', label: 'Chip thick', usual: typed(0.25) },
  ]
  const answer = $derived(joint.live.answer)
  const path = $derived(`/api/jobs/${job.id}/joints/${step.key}`)
  const pending = $derived(outbox.onTheirWay.some((item) => item.path === path))
  const views = $derived(joint.sheet?.views ?? [])
  const open = $derived(views.some(({ key }) => !['none', 'light'].includes(word(key))))
  function word(key: string): string {
    return joint.fields[`views.${key}`] ?? 'none'
  }
  const rows = $derived.by(() => {
    if (!answer) return []
    const [chips, ...others] = answer.amounts
    const solder = `${answer.solder_title}${answer.flow ? `, flows ${answer.flow}` : ''}`
    const forms = answer.sound
      ? [
          {
            key: 'solder',
            says: `${chips?.title ?? ''}, ${chips?.says ?? ''}`,
            note: `${solder}; ${answer.chip_reason}`,
            act: false,
          },
          ...others.map((one) => ({
            key: '',
            says: `or ${one.title}`,
            note: one.says,
            act: false,
          })),
        ]
      : [{ key: 'solder', says: answer.chip_reason, note: solder, act: false }]
    return [
      {
        key: 'saw',
        says: `each pass takes ${answer.pass_text}`,
        note: answer.pass_says,
        act: answer.passes_left === 0,
      },
      ...forms,
      ...answer.seams.map((seam) => ({
        key: 'stays whole',
        says: `${seam.title}: ${seam.says}`,
        note: seam.known ? seam.solder : '',
        act: seam.holds === 'no',
      })),
      {
        key: answer.seams.length ? '' : 'stays whole',
        says: answer.metal_says,
        note: '',
        act: false,
      },
    ]
  })
</script>

<section aria-label="The joint" class="mt-5" data-testid="joint-sheet">
  {#if joint.sheet?.joint}
    <div class="views">
      {#each views as { key, title, words } (key)}
        {@const drawing = answer?.views[key]}
        <div>
          <p class="text-soft text-small" id={`view-${key}`}>{title}</p>
          {#if drawing}
            <Figure
              {drawing}
              family={card.now?.metal.family ?? 'silver'}
              label={`The joint from ${title === 'inside' ? 'the inside' : `the ${title}`}`}
              width={126}
              height={54}
              stale={joint.live.stale}
            />
          {/if}
          <p class={['text-body', word(key) !== 'none' && word(key) !== 'light' && 'seen']}>
            <Choose
              bind:value={() => word(key), (v) => (joint.fields[`views.${key}`] = v)}
              label={`Seen from: ${title}`}
              field={`views.${key}`}
              choices={words}
              mistakes={joint.mistakes}
            />
          </p>
        </div>
      {/each}
    </div>
    <p class="mt-4 text-lead leading-[1.6]">
      The widest gap is <Word
        bind:value={() => joint.fields.gap_mm ?? '', (v) => (joint.fields.gap_mm = v)}
        label="Widest gap"
        field="gap_mm"
        mistakes={joint.mistakes}
      />, the step <Word
        bind:value={() => joint.fields.step_mm ?? '', (v) => (joint.fields.step_mm = v)}
        label="Step"
        field="step_mm"
        mistakes={joint.mistakes}
      />, the twist <Word
        bind:value={() => joint.fields.twist_deg ?? '', (v) => (joint.fields.twist_deg = v)}
        label="Twist in degrees"
        field="twist_deg"
        mistakes={joint.mistakes}
      />°; it <Choose
        bind:value={() => joint.fields.own_spring ?? 'yes', (v) => (joint.fields.own_spring = v)}
        label="Its spring"
        field="own_spring"
        choices={SPRING}
        mistakes={joint.mistakes}
      />. Sawn through <Word
        bind:value={() => joint.fields.passes_made ?? '', (v) => (joint.fields.passes_made = v)}
        label="Passes made"
        field="passes_made"
        mistakes={joint.mistakes}
      /> of {joint.sheet?.joint?.passes_planned} planned, filed <Word
        bind:value={() => joint.fields.filed_mm ?? '', (v) => (joint.fields.filed_mm = v)}
        label="Filed beyond the plan"
        field="filed_mm"
        mistakes={joint.mistakes}
      /> beyond the plan{#if open}, <Choose
          bind:value={() => joint.fields.tried ?? '', (v) => (joint.fields.tried = v)}
          label="Tried so far"
          field="tried"
          choices={joint.sheet?.tried ?? []}
          mistakes={joint.mistakes}
        />{/if}; chips of {#each CHIP as { key, label, usual }, i (key)}{i ? ' × ' : ''}<Word
          bind:value={() => joint.fields[key] ?? '', (v) => (joint.fields[key] = v)}
          {label}
          field={key}
          placeholder={usual}
          mistakes={joint.mistakes}
        />{/each}.
    </p>
    <Mistakes mistakes={joint.mistakes} />
    {#if answer}
      <div class="lead">
        <div class={['min-w-0', joint.live.stale && 'stale']} aria-live="polite">
          <p class="figure next" data-testid="next">
            {joint.begun ? answer.next.title : 'Look at all five'}
          </p>
          <p class="mt-3 text-lead leading-snug">
            <Say
              text={joint.begun
                ? answer.next.says
                : 'Against the light: say what each view shows. Closed all round? Then keep it so.'}
            />
          </p>
          {#if answer.instead}
            <p class="mt-1 text-lead leading-snug"><Say text={answer.instead} /></p>
          {/if}
          <p class="text-blue mt-3 text-lead" data-testid="closes">
            {#if !joint.begun}
              Closed as planned, it closes at <Say
                text={answer.closes_text}
                strong={answer.closes_text}
              />.
            {:else if answer.sound}
              Sound: it may be soldered, and closes at <Say
                text={answer.closes_text}
                strong={answer.closes_text}
              />.
            {:else if answer.next.costs_text}
              That takes {answer.next.costs_text}: it then closes at <Say
                text={answer.next.closes_text}
                strong={answer.next.closes_text}
              />.
            {:else}
              As it stands it closes at <Say
                text={answer.closes_text}
                strong={answer.closes_text}
              />; not to be soldered yet.
            {/if}
          </p>
        </div>
        <figure class="shrink-0">
          <Figure
            drawing={answer.ring}
            family={card.now?.metal.family ?? 'silver'}
            label={`The ring at its joint${answer.ring_says ? `, ${answer.ring_says}` : ''}`}
            width={220}
            height={220}
            stale={joint.live.stale}
          />
          {#if answer.ring_says}
            <figcaption class="text-blue text-center text-small">{answer.ring_says}</figcaption>
          {/if}
        </figure>
      </div>
      <Rows {rows} />
    {/if}
    <p class="mt-4 flex flex-wrap items-baseline gap-x-5 gap-y-1">
      {#if !joint.same}
        <button type="button" class="btn btn-primary" onclick={() => void joint.keep()}
          >Keep what is seen</button
        >
      {/if}
      {#if pending}
        <span class="text-flame-text text-note">on its way, not kept yet</span>
      {:else if joint.sheet?.kept}
        <span class="text-soft text-note" data-testid="look-kept"
          >{joint.same ? 'kept' : 'last kept'}
          {whenWords(joint.sheet.kept.at, clock.now)}{joint.sheet.kept.by
            ? `, ${joint.sheet.kept.by}`
            : ''}</span
        >
      {/if}
    </p>
    <DraftSays draft={joint.draft} />
  {/if}
</section>

<style>
  .views {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(128px, 1fr));
    gap: 0.8rem 1rem;
  }
  .seen :global(.word) {
    color: var(--flame-text);
  }
  .seen :global(.word:focus) {
    color: var(--color-primary-content);
  }
  .lead {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 1.5rem 2.5rem;
    margin-top: 1.4rem;
  }
  .lead > div {
    flex: 1 1 22rem;
  }
  .next {
    font-size: clamp(44px, 6vw, 76px);
    line-height: 0.95;
  }
</style>
