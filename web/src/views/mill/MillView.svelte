<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Catalogue, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { length, shop } from '$lib/length.svelte'
  import { Live } from '$lib/live.svelte'
  import BigFigure from '$lib/parts/BigFigure.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { needsOf } from '../sheet/order'
  import BarPicture, { type Side } from './BarPicture.svelte'
  import { fieldOf, MILL, millBody, THIN, thinBody, type MillFields, type ThinFields } from './mill'
  import Passes from './Passes.svelte'

  let { catalogue }: { catalogue: Catalogue } = $props()
  let f = $state<MillFields>({ ...MILL })
  let t = $state<ThinFields>({ ...THIN })
  const GAP = ' '
  const rolling = new Live<Schemas['MillPlan']>()
  const thinning = new Live<Schemas['ThinPlan']>()
  const draft = new Draft(
    'mill',
    () => ({ f: { ...f }, t: { ...t } }),
    (typed: { f: MillFields; t: ThinFields }) => {
      f = { ...MILL, ...typed.f }
      t = { ...THIN, ...typed.t }
    },
  )
  const thins = $derived(f.what === 'thin')
  const live = $derived(thins ? thinning : rolling)
  const mistakes = $derived(
    live.mistakes.map((one) => ({ ...one, field: fieldOf(one.field, thins) })),
  )
  const thin = $derived(thins ? thinning.answer : null)
  const plan = $derived(thins ? null : rolling.answer)
  const family = $derived(catalogue.metals.find((one) => one.key === f.metal)?.family ?? 'silver')
  const needs = (profile: string) => needsOf(profile, catalogue)
  const WHAT = [
    { key: 'thin', title: 'Thin a bar in one place' },
    { key: 'roll', title: 'Roll a bar down' },
  ]
  const FORMS = [
    { key: 'thin-middle', title: 'its middle' },
    { key: 'thick-middle', title: 'its ends' },
  ]
  const POURED = [
    { key: 'no', title: 'bought' },
    { key: 'yes', title: 'poured' },
  ]
  onMount(() => {
    void draft.begin()
    return () => {
      rolling.stop()
      thinning.stop()
    }
  })
  $effect(() => draft.keep())
  $effect(() => {
    if (thins) {
      const body = thinBody(t, f.metal, f.poured, shop.units)
      return thinning.want((signal) =>
        ask(api.POST('/api/plan/thin', { body: body as never, signal })),
      )
    }
    const body = millBody(f, needs, shop.units)
    return rolling.want((signal) =>
      ask(api.POST('/api/plan/mill', { body: body as never, signal })),
    )
  })
  const sides = $derived.by((): Side[] => {
    if (!thin) return []
    const ratio = thin.ratio
    const bar = thin.stays_mm + (thin.bar_length_mm - thin.stays_mm)
    const thickness = Number(thin.thick_mm)
    const middle = t.form === 'thick-middle'
    const side = (title: string, long: number, to: number): Side => {
      const moved = long - thin.stays_mm
      const parts = middle
        ? [
            { from: 0, to: moved / 2, thick: to },
            { from: long - moved / 2, to: long, thick: to },
          ]
        : [{ from: thin.stays_mm / 2, to: long - thin.stays_mm / 2, thick: to }]
      return { title, long, thick: thickness, parts }
    }
    const out = [side('before', bar, thickness)]
    if (thin.now)
      out.push(
        side(
          'now',
          bar + thin.growth_mm - thin.now.left_mm,
          Math.min(thickness, thin.now.middle_thickness_mm),
        ),
      )
    out.push(
      side(
        'after',
        thin.final_length_mm,
        Math.min(thickness, thin.thinned_thick_mm || thickness * ratio),
      ),
    )
    return out
  })
  /** A bar that is rolled, before and after, where its length is known. */
  const rolled = $derived.by((): Side[] => {
    if (!plan || plan.length_mm === null || !plan.passes.length) return []
    const from = plan.start.area_mm2
    const to = plan.target.area_mm2
    const side = (title: string, long: number, thick: number): Side => ({
      title,
      long,
      thick,
      parts: [],
    })
    const out = [side('before', (plan.length_mm * to) / from, plan.start.thickness_mm)]
    if (plan.now?.length_mm)
      out.push(side('now', plan.now.length_mm, Number(plan.now.thickness_mm)))
    out.push(side('after', plan.length_mm, plan.target.thickness_mm))
    return out
  })
  const lead = $derived(
    thin
      ? thin.now
        ? { figure: length(thin.final_length_mm, 1, 3), label: 'stop at' }
        : { figure: length(thin.bar_length_mm, 1, 3), label: 'cut the bar' }
      : plan
        ? {
            figure: String(plan.passes.length),
            label: plan.passes.length === 1 ? 'pass' : 'passes',
          }
        : null,
  )
</script>

{#snippet word(of: MillFields | ThinFields, field: string, label: string, placeholder: string)}
  {@const said = of as unknown as Record<string, string>}
  <Word
    bind:value={() => said[field] ?? '', (v) => (said[field] = v)}
    {label}
    {field}
    {placeholder}
    {mistakes}
  />
{/snippet}

<h1 class="sr-only">The mill</h1>
<p class="text-note"><a class="quiet" href="/drawer">the drawer</a></p>
<p class="text-order leading-[1.7]">
  <Choose bind:value={f.what} label="What the mill does" field="what" choices={WHAT} {mistakes} />: <Choose
    bind:value={f.metal}
    label="Metal"
    field="metal"
    choices={catalogue.metals}
    {mistakes}
  />,
  <Choose
    bind:value={f.poured}
    label="Bought or poured"
    field="poured"
    choices={POURED}
    {mistakes}
  />,
  {#if thins}
    {@render word(t, 'width', 'Width of the bar', shop.units)} wide,
    {@render word(t, 'thick', 'Thickness of the bar', shop.units)} thick; thin <Choose
      bind:value={t.form}
      label="What is thinned"
      field="form"
      choices={FORMS}
      {mistakes}
    /> to
    {@render word(t, 'middle_width', 'Width there', shop.units)} by
    {@render word(t, 'middle_thick', 'Thickness there', shop.units)},
    {#if t.form === 'thin-middle'}leave {@render word(t, 'end', 'Length of each end', '8')} at each end{:else}leave
      {@render word(t, 'middle', 'Length of the middle', '12')} in the middle{/if}, and end at {@render word(
      t,
      'final',
      'Final length',
      'so long',
    )}.
  {:else}
    from <Choose
      bind:value={f.from}
      label="Profile it begins as"
      field="from"
      choices={catalogue.profiles}
      {mistakes}
    />{GAP}{#if needs(f.from).includes('width_mm')}{@render word(
        f,
        'from_width',
        'Width it begins at',
        'wide',
      )} by{GAP}{/if}{@render word(f, 'from_thick', 'Thickness it begins at', 'thick')},
    {@render word(f, 'from_long', 'Length it begins at', 'how long')} long, to
    <Choose
      bind:value={f.to}
      label="Profile it becomes"
      field="to"
      choices={catalogue.profiles}
      {mistakes}
    />{GAP}{#if needs(f.to).includes('width_mm')}{@render word(
        f,
        'to_width',
        'Width it becomes',
        'wide',
      )} by{GAP}{/if}{@render word(f, 'to_thick', 'Thickness it becomes', 'thick')},
    {@render word(f, 'to_long', 'Length wanted', 'as long as it runs')} long;
    {@render word(f, 'per_pass', 'Reduction of a pass', '10 %')} a pass, an anneal after
    {@render word(f, 'anneal_at', 'Reduction before an anneal', 'the usual')}, worked so far by
    {@render word(f, 'worked', 'Reduced since its last anneal', 'nothing')}.
  {/if}
</p>
<DraftSays {draft} />
<Mistakes {mistakes} />

{#if thins}
  <p class="mt-2 text-lead leading-[1.7]" data-testid="half-way">
    By the caliper it is {@render word(t, 'now_long', 'Length now', 'not begun')} long{#if t.now_long.trim()},
      its {t.form === 'thick-middle' ? 'ends' : 'middle'}
      {@render word(t, 'now_width', 'Width now', 'wide')} by
      {@render word(t, 'now_thick', 'Thickness now', 'thick')}{/if}.
  </p>
{/if}

{#if !thins}
  <p class="mt-2 text-lead leading-[1.7]" data-testid="half-way">
    By the caliper it is {@render word(f, 'now', 'Thick now', 'not begun')} thick now.
  </p>
{/if}

{#if lead}
  <div class="lead mt-4">
    <section aria-label="What leads" data-testid="mill-lead">
      <p class="text-soft text-lead leading-none">{thins ? lead.label : ''}</p>
      <BigFigure
        figure={lead.figure}
        unit={thins ? (shop.units === 'mm' ? 'mm' : '') : lead.label}
        label={lead.label}
        stale={live.stale}
      />
    </section>
    <div class={['text-lead leading-[1.5]', live.stale && 'stale', 'eased']} aria-live="polite">
      {#if thin?.now}<p class="text-order font-medium" data-testid="stop">
          <Say text={thin.now.says} />
        </p>{/if}
      {#if plan?.now}<p class="text-order font-medium" data-testid="rest">
          <Say text={plan.now.says} />
        </p>{/if}
      {#each thin?.says ?? plan?.says ?? [] as line, i (i)}<p class={i ? 'text-soft' : ''}>
          <Say text={line} />
        </p>{/each}
      {#if (thin ?? plan) && (thin?.anneals ?? plan?.anneals)}
        {@const heat = (thin ?? plan)?.anneal}
        {#if heat}<p class="mt-2 text-body">
            Anneal at {heat.low_c.toFixed(0)} to {heat.high_c.toFixed(0)} °C: {heat.look}. {heat.cooling}
          </p>{/if}
      {/if}
    </div>
  </div>
  {#if sides.length}<div class="mt-6 max-w-[1100px]">
      <BarPicture {sides} {family} stale={live.stale} />
    </div>{/if}
  {#if rolled.length}<div class="mt-4 max-w-[1100px]">
      <BarPicture sides={rolled} {family} stale={live.stale} />
    </div>{/if}
  {#if plan}<Passes {plan} stale={live.stale} />{/if}
{/if}
<p class="text-soft mt-5 text-note">
  Hair, sleeves and fingers away from the rolls; feed with a stick or tongs where the bar is short.
  Quench it dry before it goes back between them.
</p>

<style>
  .lead {
    display: grid;
    gap: 1rem 3rem;
    align-items: start;
  }
  @media (min-width: 1000px) {
    .lead {
      grid-template-columns: 430px minmax(0, 1fr);
    }
  }
</style>
