<script lang="ts">
  import { untrack } from 'svelte'

  import type { Catalogue, Mistake, Schemas } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'

  interface Props {
    title: string
    ways: Schemas['SomeWays']
    /** What holds where this level says nothing, and whose that is. */
    usual: Schemas['Ways']
    above: string
    catalogue: Catalogue
    mistakes: Mistake[]
    kept: boolean
    onset: (ways: Schemas['SomeWays']) => void
  }
  let { title, ways, usual, above, catalogue, mistakes, kept, onset }: Props = $props()

  const SPREADS = [
    { field: 'thickness_spread_mm', label: 'Off in the thickness', says: 'reading the thickness' },
    { field: 'cutting_spread_mm', label: 'Off in cutting', says: 'marking and cutting' },
    { field: 'saw_pass_spread_mm', label: 'Off in a saw pass', says: 'at each pass of the saw' },
    { field: 'truing_spread_mm', label: 'Off in truing', says: 'truing on the mandrel' },
  ] as const

  /** What is left open follows the level above, and says what that is. */
  const open = (choices: { key: string; title: string }[], field: keyof Schemas['Ways']) => {
    const now = String(usual[field])
    const title = choices.find((one) => one.key === now)?.title ?? now
    return [{ key: '', title: `${title}, ${above}` }, ...choices]
  }
  const UNITS = [
    { key: 'mm', title: 'millimetres' },
    { key: 'in', title: 'inches' },
  ]
  const YES = [
    { key: 'yes', title: 'larger' },
    { key: 'no', title: 'as measured' },
  ]
  const TIMES = ['never', 'once', 'twice'].map((said, i) => ({ key: String(i), title: said }))
  const shown = (value: unknown) => (value === null || value === undefined ? '' : String(value))
  let words = $state(
    untrack(() => ({
      home_scale: shown(ways.home_scale),
      units: shown(ways.units),
      caliper_units: shown(ways.caliper_units),
      rule: shown(ways.rule),
      leave: shown(ways.leave),
      blade: shown(ways.blade),
      saw_passes: shown(ways.saw_passes),
      round_to_mm: shown(ways.round_to_mm),
      wide: ways.wide === null || ways.wide === undefined ? '' : ways.wide ? 'yes' : 'no',
      wide_quarter_from_mm: shown(ways.wide_quarter_from_mm),
      wide_half_from_mm: shown(ways.wide_half_from_mm),
      thickness_spread_mm: shown(ways.thickness_spread_mm),
      cutting_spread_mm: shown(ways.cutting_spread_mm),
      saw_pass_spread_mm: shown(ways.saw_pass_spread_mm),
      truing_spread_mm: shown(ways.truing_spread_mm),
      costly_share: shown(ways.costly_share),
    })),
  )

  function set(event: SubmitEvent) {
    event.preventDefault()
    const said = Object.fromEntries(
      Object.entries(words).map(([name, value]) => [name, value.trim() || null]),
    )
    onset({ ...said, wide: words.wide ? words.wide === 'yes' : null } as Schemas['SomeWays'])
  }
</script>

<form class="mt-7 max-w-[58rem]" aria-label={title} onsubmit={set}>
  <h2 class="text-[21px] font-medium">{title}</h2>
  <p class="mt-1 text-[20px] leading-[1.9]">
    Sizes are <Choose
      bind:value={words.home_scale}
      label="Home scale"
      field="home_scale"
      choices={open(catalogue.scales, 'home_scale')}
      {mistakes}
    />, lengths <Choose
      bind:value={words.units}
      label="Units"
      field="units"
      choices={open(UNITS, 'units')}
      {mistakes}
    />, the caliper types
    <Choose
      bind:value={words.caliper_units}
      label="Caliper units"
      field="caliper_units"
      choices={open(UNITS, 'caliper_units')}
      {mistakes}
    />. Cut by the
    <Choose
      bind:value={words.rule}
      label="Rule"
      field="rule"
      choices={open(catalogue.rules, 'rule')}
      {mistakes}
    />, saw through the joint
    <Choose
      bind:value={words.saw_passes}
      label="Saw passes"
      field="saw_passes"
      choices={open(TIMES, 'saw_passes')}
      {mistakes}
    /> with
    <Choose
      bind:value={words.blade}
      label="Blade"
      field="blade"
      choices={open(catalogue.blades, 'blade')}
      {mistakes}
    />, leave a band
    <Choose
      bind:value={words.leave}
      label="Leave"
      field="leave"
      choices={open(catalogue.leave, 'leave')}
      {mistakes}
    />, mark to
    <Word
      bind:value={words.round_to_mm}
      label="Rounding"
      field="round_to_mm"
      placeholder={String(usual.round_to_mm)}
      {mistakes}
    /> mm. A wide band is cut <Choose
      bind:value={words.wide}
      label="Wide bands"
      field="wide"
      choices={[{ key: '', title: `${usual.wide ? 'larger' : 'as measured'}, ${above}` }, ...YES]}
      {mistakes}
    />: a quarter size from
    <Word
      bind:value={words.wide_quarter_from_mm}
      label="Quarter from"
      field="wide_quarter_from_mm"
      placeholder={String(usual.wide_quarter_from_mm)}
      {mistakes}
    />, a half from <Word
      bind:value={words.wide_half_from_mm}
      label="Half from"
      field="wide_half_from_mm"
      placeholder={String(usual.wide_half_from_mm)}
      {mistakes}
    /> mm wide.
  </p>
  <p class="text-soft mt-1 text-[17px] leading-[1.8]">
    Our hand is off by about {#each SPREADS as spread, i (spread.field)}{i ? ', ' : ''}<span
        class="whitespace-nowrap"
        ><Word
          bind:value={words[spread.field]}
          label={spread.label}
          field={spread.field}
          placeholder={String(usual[spread.field])}
          {mistakes}
        />
        {spread.says}</span
      >{/each} (mm, two rings in three). On the costly side, at most
    <Word
      bind:value={words.costly_share}
      label="Share on the costly side"
      field="costly_share"
      placeholder={String(usual.costly_share)}
      {mistakes}
    /> of them.
  </p>
  <button class="act mt-2">Keep these ways</button>
  {#if kept}<span class="text-blue ml-4">Kept.</span>{/if}
  <Mistakes {mistakes} />
</form>
