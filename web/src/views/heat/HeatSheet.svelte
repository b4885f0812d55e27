<script lang="ts">
  import { untrack } from 'svelte'

  import type { Job, Step } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'
  import type { Card } from '../card/card.svelte'
  import FluxStrip from './FluxStrip.svelte'
  import { ALONE, BOTH, rolled, seamsOf } from './held'
  import { HeatState } from './heat.svelte'
  import RingPicture from './RingPicture.svelte'
  import SeamTable from './SeamTable.svelte'

  let { card, job, step }: { card: Card; job: Job; step: Step } = $props()
  const heat = untrack(() => new HeatState(card, job, step.key))
  $effect(() => heat.draft.keep())
  $effect(() => heat.ask())
  $effect(() => {
    if (card.now) untrack(() => void heat.read())
  })

  const sheet = $derived(heat.sheet)
  const answer = $derived(heat.live.answer)
  const f = $derived(heat.fields)
  const GAP = ' '
  const stones = $derived([{ key: '', title: 'no stone' }, ...(session.catalogue?.stones ?? [])])
  const solders = $derived(
    (sheet?.solders ?? []).map((one) => ({
      key: one.key,
      title: one.flow ? `${one.title}, ${one.flow}` : one.title,
    })),
  )
  const fluxes = $derived([
    { key: '', title: answer ? fluxTitle(answer.flux_kind) : 'the usual flux' },
    ...(sheet?.fluxes ?? []).filter((one) => one.key !== answer?.flux_kind || f.flux),
  ])
  const ways = $derived([
    { key: ALONE, title: 'this seam alone' },
    { key: BOTH, title: 'both seams of the piece in one heat' },
  ])
  const roll = $derived(Number(rolled(f.roll_deg, 0)))
  function fluxTitle(key: string): string {
    return sheet?.fluxes.find((one) => one.key === key)?.title ?? 'flux'
  }
</script>

{#if sheet?.heat}
  <section id="heat" aria-label="The heat" class="mt-6" data-testid="heat-sheet">
    <p class="text-lead leading-[1.6]">
      {sheet.joint_title[0]?.toUpperCase()}{sheet.joint_title.slice(1)}, with <Choose
        bind:value={() => sheet.solder, (v) => void heat.choose(v)}
        label="Solder of this joint"
        field="solder"
        choices={solders}
        mistakes={heat.mistakes}
      />, flows at <Word
        bind:value={() => f.flow_c ?? '', (v) => (heat.fields.flow_c = v)}
        label="Flow in °C"
        field="flow_c"
        mistakes={heat.mistakes}
      /> °C, under <Choose
        bind:value={() => f.flux ?? '', (v) => (heat.fields.flux = v)}
        label="Flux"
        field="flux"
        choices={fluxes}
        mistakes={heat.mistakes}
      />{#if sheet.apart_mm}; <Choose
          bind:value={() => f.insert ?? ALONE, (v) => (heat.fields.insert = v)}
          label="Seams in this heat"
          field="insert_mm"
          choices={ways}
          mistakes={heat.mistakes}
        />{/if}. It hangs with <Word
        bind:value={() => f.water_share ?? '', (v) => (heat.fields.water_share = v)}
        label="Share of the inside in water"
        field="water_share"
        placeholder="none"
        mistakes={heat.mistakes}
      /> of its inside in water, rolled <Word
        bind:value={() => f.roll_deg ?? '', (v) => (heat.fields.roll_deg = v)}
        label="Rolled, in degrees"
        field="roll_deg"
        mistakes={heat.mistakes}
      />° to the right, <Choose
        bind:value={() => f.stone ?? '', (v) => (heat.fields.stone = v)}
        label="Stone opposite the joint"
        field="stone"
        choices={stones}
        mistakes={heat.mistakes}
      /> opposite, tweezers <Word
        bind:value={() => f.tweezers_mm ?? '', (v) => (heat.fields.tweezers_mm = v)}
        label="Tweezers from the joint"
        field="tweezers_mm"
        placeholder="nowhere on it"
        mistakes={heat.mistakes}
      />{f.tweezers_mm
        ? ' from the joint'
        : ''}{#each seamsOf(sheet) as seam, i (seam.key)},{GAP}{seam.title}{GAP}<Word
          bind:value={
            () => f[`seams.${i}.at_mm`] ?? '', (v) => (heat.fields[`seams.${i}.at_mm`] = v)
          }
          label={`Where ${seam.title} lies`}
          field={`seams.${i}.at_mm`}
          mistakes={heat.mistakes}
        /> from it{/each}.
    </p>
    {#if sheet.reckoned}<p class="text-soft mt-1 text-note">{sheet.reckoned}</p>{/if}
    <Mistakes mistakes={heat.mistakes} />
    {#if answer}
      <div class={['both', heat.live.stale && 'stale']}>
        <div class="min-w-0">
          <RingPicture
            picture={answer.picture}
            family={card.now?.metal.family ?? 'silver'}
            {roll}
            stale={heat.live.stale}
            onroll={(by) => heat.roll(by)}
          />
        </div>
        <div class="min-w-0" aria-live="polite">
          <p class="figure next" data-testid="heat-lead">{answer.lead.title}</p>
          <p class="mt-2 text-body leading-snug"><Say text={answer.lead.says} /></p>
          <dl class="rows">
            {#each answer.rows as row (row.key)}
              <div>
                <dt
                  class={[
                    row.figure.includes('×') ? 'figure ratio' : 'name',
                    row.tone === 'act' && 'text-flame-text',
                  ]}
                >
                  {row.figure}
                </dt>
                <dd>
                  <span class={row.tone === 'act' ? 'text-flame-text' : ''}
                    ><Say text={row.says} /></span
                  >
                  {#if row.note}<span class="text-soft block text-small"
                      ><Say text={row.note} /></span
                    >{/if}
                </dd>
              </div>
            {/each}
            {#each answer.torches as torch (torch.title)}
              <div>
                <dt class={['name', torch.enough === 'no' && 'text-flame-text']}>{torch.title}</dt>
                <dd>
                  {torch.says}<span class="text-soft block text-small"
                    >{torch.done}; this asks {torch.times.mid.toFixed(1)} times that</span
                  >
                </dd>
              </div>
            {/each}
          </dl>
        </div>
      </div>
      <FluxStrip
        title={answer.flux_kind === 'none'
          ? 'no flux: the glow is the thermometer'
          : `${fluxTitle(answer.flux_kind)}, as a thermometer`}
        stages={answer.flux}
      />
    {/if}
    {#if sheet.amounts.length}
      <p class="mt-5 text-body">
        <span class="font-medium">{sheet.amounts[0]?.title}</span>, {sheet.amounts[0]?.says}.
        <span class="text-soft"
          >{#each sheet.amounts.slice(1) as one (one.form)}Or {one.title}, {one.says}.{GAP}{/each}</span
        >
      </p>
    {/if}
    <SeamTable seams={sheet.seams} metal={sheet.metal_says} />
    <DraftSays draft={heat.draft} />
  </section>
{/if}

<style>
  .both {
    display: grid;
    gap: 1.5rem 2.5rem;
    margin-top: 1.2rem;
    grid-template-columns: minmax(0, 1fr);
  }
  @media (min-width: 720px) {
    .both {
      grid-template-columns: minmax(0, 1.25fr) minmax(0, 1fr);
    }
  }
  .next {
    font-size: clamp(38px, 4.6vw, 58px);
    line-height: 0.98;
  }
  .rows {
    margin-top: 1.2rem;
    font-size: var(--text-body);
    line-height: 1.3;
  }
  .rows > div {
    display: grid;
    grid-template-columns: 6.2rem minmax(0, 1fr);
    gap: 0 0.9rem;
    padding: 0.35rem 0;
    align-items: baseline;
  }
  .ratio {
    font-size: var(--text-title);
    line-height: 1;
  }
  .name {
    font-weight: 600;
  }
</style>
