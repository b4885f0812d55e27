<script lang="ts">
  import {
    api,
    ask,
    type Catalogue,
    type Mistake,
    type ResizePlan,
    type Schemas,
  } from '$lib/api/client'
  import { length, typed } from '$lib/length.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Word from '$lib/parts/Word.svelte'
  import type { Words } from '../ring/order'

  interface Props {
    words: Words
    catalogue: Catalogue
    mistakes: Mistake[]
    plan: ResizePlan | null
    jobId: number | null
  }
  let { words = $bindable(), catalogue, mistakes, plan, jobId }: Props = $props()
  let batch = $state.raw<Schemas['BatchOut'] | null>(null)
  let asked = false
  const TIMES = ['never', 'once', 'twice', 'three times'].map((title, i) => ({
    key: String(i),
    title,
  }))
  const GAP = ' '
  const ACROSS = [
    { path: 'piece.width_mm', label: 'Piece wide', says: 'wide, ' },
    { path: 'piece.thickness_mm', label: 'Piece thick', says: 'thick' },
  ]
  const f = $derived(words.fields)
  const ways = $derived([
    { key: '', title: 'the best way' },
    ...(plan?.methods ?? []).map((one) => ({ key: one.key, title: one.title })),
    ...(f.method && !plan?.methods.some((one) => one.key === f.method)
      ? [{ key: f.method, title: f.method }]
      : []),
  ])
  const key = $derived(plan?.method ?? '')
  const insert = $derived(key === 'add-stock' || key === 'reshank')
  const never = $derived(
    !!f.override_reason ||
      plan?.methods.find((one) => one.key === f.method)?.advice === 'never' ||
      mistakes.some((one) => one.field === 'override_reason'),
  )
  /** What is at hand from other rings that came in: credited to the shop, of the same metal. */
  const pieces = $derived(
    (batch?.batch.pieces ?? []).filter((one) => one.metal === f.metal && one.id !== jobId),
  )
  /** What the drawer has for it: the one that suits best first, what it is short by said. */
  let offers = $state.raw<Schemas['Offer'][]>([])
  const figures = $derived(plan?.methods.find((one) => one.key === key)?.figures)
  const need = $derived(Number(figures?.insert_mm ?? figures?.part_mm ?? 0))
  $effect(() => {
    if (!plan || !insert || !need) {
      offers = []
      return
    }
    const { profile, width_mm, thickness_mm, side_mm } = plan.section
    const body = {
      metal: plan.metal.key,
      profile,
      thickness_mm,
      width_mm,
      side_mm,
      need_mm: need,
      job_id: jobId,
    }
    let gone = false
    void ask(api.POST('/api/stock/inserts', { body })).then((answer) => {
      if (!gone && answer?.data) offers = answer.data.items
    })
    return () => {
      gone = true
    }
  })
  function take(piece: Pick<Schemas['Spare'], 'length_mm' | 'width_mm' | 'thickness_mm'>) {
    Object.assign(words.fields, {
      'piece.length_mm': typed(piece.length_mm),
      'piece.width_mm': typed(piece.width_mm),
      'piece.thickness_mm': typed(piece.thickness_mm),
      'piece.at': 'neutral',
    })
  }
  // pieces at hand are looked for once a piece is wanted at all
  $effect(() => {
    if (!insert || asked) return
    asked = true
    void ask(api.GET('/api/batch')).then((answer) => (batch = answer?.data ?? null))
  })
  const tested = $derived(
    f.metal === 'unknown' ||
      ['mark', 'magnet', 'touch'].some((name) => f[`tested.${name}`]?.trim()),
  )
</script>

<p class="text-soft mt-2 text-note leading-[1.75]">
  By <Choose
    bind:value={() => f.method ?? '', (v) => (words.fields.method = v)}
    label="Way"
    field="method"
    choices={ways}
    {mistakes}
  />{#if never}, all the same because <Word
      bind:value={() => f.override_reason ?? '', (v) => (words.fields.override_reason = v)}
      label="Why all the same"
      field="override_reason"
      placeholder="a reason"
      {mistakes}
    />{/if}, with <Choose
    bind:value={() => f['join.blade'] ?? '', (v) => (words.fields['join.blade'] = v)}
    label="Saw blade"
    field="join.blade"
    choices={catalogue.blades}
    {mistakes}
  />{#if !insert}, saw through the joint <Choose
      bind:value={() => f['join.saw_passes'] ?? '', (v) => (words.fields['join.saw_passes'] = v)}
      label="Saw passes"
      field="join.saw_passes"
      choices={TIMES}
      {mistakes}
    />{:else}, file <Word
      bind:value={() => f['join.faces_mm'] ?? '', (v) => (words.fields['join.faces_mm'] = v)}
      label="Off each face"
      field="join.faces_mm"
      placeholder="0.05"
      {mistakes}
    /> off each face, saw through each seam <Choose
      bind:value={() => f['join.seam_passes'] ?? '', (v) => (words.fields['join.seam_passes'] = v)}
      label="Passes of each seam"
      field="join.seam_passes"
      choices={TIMES}
      {mistakes}
    />; a piece at hand is <Word
      bind:value={() => f['piece.length_mm'] ?? '', (v) => (words.fields['piece.length_mm'] = v)}
      label="Piece at hand"
      field="piece.length_mm"
      placeholder="none"
      {mistakes}
    /> long{#if f['piece.length_mm']}{GAP}
      <Choose
        bind:value={() => f['piece.at'] ?? 'neutral', (v) => (words.fields['piece.at'] = v)}
        label="Piece measured"
        field="piece.at"
        choices={[
          { key: 'neutral', title: 'in its middle' },
          { key: 'outside', title: 'outside' },
        ]}
        {mistakes}
      />,
      {#each ACROSS as one (one.path)}<Word
          bind:value={() => f[one.path] ?? '', (v) => (words.fields[one.path] = v)}
          label={one.label}
          field={one.path}
          placeholder="as the shank"
          {mistakes}
        />
        {one.says}{/each}{/if}{#each offers.slice(0, 3) as one (one.id)}, or
      <button type="button" class="quiet" onclick={() => take(one)}
        >{one.name}{one.place ? `, ${one.place}` : ''}, {length(one.length_mm)}</button
      >
      <span class={one.enough ? 'text-soft' : 'text-flame-text'}>({one.says})</span
      >{/each}{#each pieces as piece (piece.id)}, or
      <button type="button" class="quiet" onclick={() => take(piece)}
        >{length(piece.length_mm)} from {batch?.names[String(piece.id)]}</button
      >{/each}{/if}. Its seam is <Choose
    bind:value={() => f.seam_open ?? 'no', (v) => (words.fields.seam_open = v)}
    label="Its seam"
    field="seam_open"
    choices={[
      { key: 'no', title: 'closed' },
      { key: 'yes', title: 'open' },
    ]}
    {mistakes}
  />.
  {#if key === 'take-out' || key === 'reshank'}What comes out is <Choose
      bind:value={() => f.offcut || 'returned', (v) => (words.fields.offcut = v)}
      label="What comes out"
      field="offcut"
      choices={[
        { key: 'returned', title: 'handed back' },
        { key: 'credited', title: 'credited to them' },
      ]}
      {mistakes}
    />.{/if}
  {#if tested}Its mark reads <Word
      bind:value={() => f['tested.mark'] ?? '', (v) => (words.fields['tested.mark'] = v)}
      label="Its mark"
      field="tested.mark"
      placeholder="nothing"
      {mistakes}
    />, a magnet <Choose
      bind:value={() => f['tested.magnet'] ?? '', (v) => (words.fields['tested.magnet'] = v)}
      label="Magnet"
      field="tested.magnet"
      choices={[
        { key: '', title: 'was not tried' },
        { key: 'no', title: 'does not pull it' },
        { key: 'yes', title: 'pulls it' },
      ]}
      {mistakes}
    />, touch says <Word
      bind:value={() => f['tested.touch'] ?? '', (v) => (words.fields['tested.touch'] = v)}
      label="Touch"
      field="tested.touch"
      placeholder="not tried"
      {mistakes}
    />.{/if}
</p>
