<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Catalogue, Schemas } from '$lib/api/client'
  import { Editing } from '$lib/editing.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'

  interface Props {
    title: string
    ways: Schemas['SomeWays']
    /** What holds where this level says nothing, and whose that is. */
    usual: Schemas['Ways']
    above: string
    catalogue: Catalogue
    level: 'workshop' | 'mine'
    version: number
    onset: (all: Schemas['AllWays']) => void
  }
  let { title, ways, usual, above, catalogue, level, version: read, onset }: Props = $props()

  const LABELS = {
    home_scale: 'sizes',
    units: 'lengths',
    caliper_units: 'the caliper types',
    rule: 'rule',
    leave: 'leave a band',
    blade: 'blade',
    saw_passes: 'saw passes',
    round_to_mm: 'mark to, mm',
    wide: 'a wide band',
    wide_quarter_from_mm: 'a quarter from, mm',
    wide_half_from_mm: 'a half from, mm',
    thickness_spread_mm: 'off in the thickness, mm',
    cutting_spread_mm: 'off in cutting, mm',
    saw_pass_spread_mm: 'off in a saw pass, mm',
    truing_spread_mm: 'off in truing, mm',
    costly_share: 'share on the costly side',
  }
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
  const wordsOf = (ways: Partial<Schemas['SomeWays']>) => ({
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
  })

  const editing = untrack(
    () =>
      new Editing({
        sheet: `ways/${level}`,
        labels: LABELS,
        stands: wordsOf(ways),
        version: read,
        theirs: wordsOf,
      }),
  )
  const words = $derived(editing.said)
  onMount(() => void editing.draft.begin())
  $effect(() => editing.draft.keep())

  $effect(() =>
    outbox.listen((item, data) => {
      const mine = editing.draft.owns(item.slot)
      if (mine) settled(data as Schemas['AllWays'])
      return mine
    }),
  )

  async function set(event?: SubmitEvent) {
    event?.preventDefault()
    const said = Object.fromEntries(
      Object.entries(editing.send()).map(([name, value]) => [name, value.trim() || null]),
    )
    const wide = words.wide ? words.wide === 'yes' : null
    const answer = await outbox.send<Schemas['AllWays']>({
      method: 'PUT',
      path: `/api/ways/${level}`,
      body: { ...said, wide, version: editing.version },
      says: level === 'mine' ? 'your own ways' : 'the ways of the workshop',
      where: '/ways',
      slot: editing.draft.slot,
    })
    if (answer.problem) return editing.refused(answer.problem)
    settled(answer.data)
  }
  function settled(data: Schemas['AllWays']) {
    const version = level === 'mine' ? data.mine_version : data.workshop_version
    editing.saved(wordsOf(data[level]), version)
    onset(data)
  }
</script>

<form class="mt-7 max-w-[58rem]" aria-label={title} onsubmit={set}>
  <h2 class="text-[21px] font-medium">{title}</h2>
  <p class="mt-1 text-[20px] leading-[1.9]">
    Sizes are <Choose
      bind:value={editing.said.home_scale}
      label="Home scale"
      field="home_scale"
      choices={open(catalogue.scales, 'home_scale')}
      mistakes={editing.mistakes}
    />, lengths <Choose
      bind:value={editing.said.units}
      label="Units"
      field="units"
      choices={open(UNITS, 'units')}
      mistakes={editing.mistakes}
    />, the caliper types
    <Choose
      bind:value={editing.said.caliper_units}
      label="Caliper units"
      field="caliper_units"
      choices={open(UNITS, 'caliper_units')}
      mistakes={editing.mistakes}
    />. Cut by the
    <Choose
      bind:value={editing.said.rule}
      label="Rule"
      field="rule"
      choices={open(catalogue.rules, 'rule')}
      mistakes={editing.mistakes}
    />, saw through the joint
    <Choose
      bind:value={editing.said.saw_passes}
      label="Saw passes"
      field="saw_passes"
      choices={open(TIMES, 'saw_passes')}
      mistakes={editing.mistakes}
    /> with
    <Choose
      bind:value={editing.said.blade}
      label="Blade"
      field="blade"
      choices={open(catalogue.blades, 'blade')}
      mistakes={editing.mistakes}
    />, leave a band
    <Choose
      bind:value={editing.said.leave}
      label="Leave"
      field="leave"
      choices={open(catalogue.leave, 'leave')}
      mistakes={editing.mistakes}
    />, mark to
    <Word
      bind:value={editing.said.round_to_mm}
      label="Rounding"
      field="round_to_mm"
      placeholder={String(usual.round_to_mm)}
      mistakes={editing.mistakes}
    /> mm. A wide band is cut <Choose
      bind:value={editing.said.wide}
      label="Wide bands"
      field="wide"
      choices={[{ key: '', title: `${usual.wide ? 'larger' : 'as measured'}, ${above}` }, ...YES]}
      mistakes={editing.mistakes}
    />: a quarter size from
    <Word
      bind:value={editing.said.wide_quarter_from_mm}
      label="Quarter from"
      field="wide_quarter_from_mm"
      placeholder={String(usual.wide_quarter_from_mm)}
      mistakes={editing.mistakes}
    />, a half from <Word
      bind:value={editing.said.wide_half_from_mm}
      label="Half from"
      field="wide_half_from_mm"
      placeholder={String(usual.wide_half_from_mm)}
      mistakes={editing.mistakes}
    /> mm wide.
  </p>
  <p class="text-soft mt-1 text-[17px] leading-[1.8]">
    Our hand is off by about {#each SPREADS as spread, i (spread.field)}{i ? ', ' : ''}<span
        class="whitespace-nowrap"
        ><Word
          bind:value={editing.said[spread.field]}
          label={spread.label}
          field={spread.field}
          placeholder={String(usual[spread.field])}
          mistakes={editing.mistakes}
        />
        {spread.says}</span
      >{/each} (mm, two rings in three). On the costly side, at most
    <Word
      bind:value={editing.said.costly_share}
      label="Share on the costly side"
      field="costly_share"
      placeholder={String(usual.costly_share)}
      mistakes={editing.mistakes}
    /> of them.
  </p>
  {#if !editing.rows}<button class="act mt-2">Keep these ways</button>{/if}
  {#if editing.kept}<span class="text-blue ml-4">Kept.</span>{/if}
  <DraftSays draft={editing.draft} />
  <Mistakes mistakes={editing.mistakes} />
</form>
<Theirs {editing} onsave={set} />
