<script lang="ts">
  import type { Catalogue, Mistake, ResizePlan } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import type { Words } from '../ring/order'
  import StockWords from '../ring/StockWords.svelte'
  import { features, has, OTHER_SIDE, setFeature, setStone, stones, TO_GAUGE } from './order'

  interface Props {
    words: Words
    catalogue: Catalogue
    fromGauges: { key: string; title: string }[]
    toGauges: { key: string; title: string }[]
    mistakes: Mistake[]
    plan: ResizePlan | null
  }
  let { words = $bindable(), catalogue, fromGauges, toGauges, mistakes, plan }: Props = $props()

  const YES = [
    { key: 'no', title: 'no daylight' },
    { key: 'yes', title: 'daylight' },
  ]
  const STATES = [
    { key: '', title: 'as it is' },
    { key: 'treated', title: 'treated' },
    { key: 'glued', title: 'glued' },
    { key: 'treated-glued', title: 'treated and glued' },
  ]
  const GAP = ' '
  const f = $derived(words.fields)
  const set = $derived(stones(f))
  const own = $derived(features(f))
  const KEPT = ['', 'title', 'customer_name', 'note', 'due', 'hour', 'ticket']
  const mine = $derived(mistakes.filter((m) => !KEPT.includes(m.field)))
  const kinds = (place: number) => [
    { key: '', title: place || set.length ? 'nothing more' : 'nothing' },
    ...catalogue.stones,
  ]
  const things = (place: number) => [
    { key: '', title: place || own.length ? 'nothing more' : 'nothing else to it' },
    ...catalogue.features,
  ]
  const read = $derived.by(() => {
    if (!plan || mistakes.length) return ''
    const bare = (text: string) => text.trim() !== '' && !/^[a-z]/i.test(text.trim())
    const said = [
      bare(f.from ?? '') && plan.sides.from_text,
      bare(f.to ?? '') && plan.sides.to_text,
    ]
    return said.filter(Boolean).join(' to ')
  })
</script>

<section aria-label="The ring" class="min-w-0">
  <p class="text-order leading-[1.62]">
    It reads <Word
      bind:value={() => f.from ?? '', (v) => (words.fields.from = v)}
      label="Present size"
      field="from"
      placeholder="size"
      {mistakes}
    /> and <Word
      bind:value={() => f[OTHER_SIDE] ?? '', (v) => (words.fields[OTHER_SIDE] = v)}
      label="Present size from the other side"
      field="from_sides.1"
      placeholder="the same"
      {mistakes}
    /> from the other side{#if fromGauges.length > 1}, on <Choose
        bind:value={words.gauge}
        label="Read on"
        field="from_gauge"
        choices={fromGauges}
        {mistakes}
      />{/if}, <Choose
      bind:value={() => f.daylight ?? 'no', (v) => (words.fields.daylight = v)}
      label="Daylight under it"
      field="daylight"
      choices={YES}
      {mistakes}
    /> under it. Make it <Word
      bind:value={() => f.to ?? '', (v) => (words.fields.to = v)}
      label="Wanted size"
      field="to"
      placeholder="size"
      {mistakes}
    />{#if fromGauges.length > 1}{GAP}on <Choose
        bind:value={() => f[TO_GAUGE] ?? '', (v) => (words.fields[TO_GAUGE] = v)}
        label="Wanted on"
        field="to_gauge"
        choices={toGauges}
        {mistakes}
      />{/if}. <Choose
      bind:value={() => f.metal ?? '', (v) => (words.fields.metal = v)}
      label="Metal"
      field="metal"
      choices={catalogue.ring_metals}
      {mistakes}
    />, shank
    <StockWords bind:fields={words.fields} path="shank" {catalogue} {mistakes} />, thinnest <Word
      bind:value={
        () => f['shank.thinnest_mm'] ?? '', (v) => (words.fields['shank.thinnest_mm'] = v)
      }
      label="Thinnest place"
      field="shank.thinnest_mm"
      placeholder="the same"
      {mistakes}
    />. Set with {#each [...set, set.length] as i (i)}<Choose
        bind:value={
          () => f[`stones.${i}.kind`] ?? '', (v) => (words.fields = setStone(words.fields, i, v))
        }
        label={`Stone ${i + 1}`}
        field={`stones.${i}.kind`}
        choices={kinds(i)}
        {mistakes}
      />{#if i < set.length}{GAP}in <Choose
          bind:value={
            () => f[`stones.${i}.setting`] ?? 'claw',
            (v) => (words.fields[`stones.${i}.setting`] = v)
          }
          label={`Setting ${i + 1}`}
          field={`stones.${i}.setting`}
          choices={catalogue.settings}
          {mistakes}
        />
        <Choose
          bind:value={
            () => f[`stones.${i}.state`] ?? '', (v) => (words.fields[`stones.${i}.state`] = v)
          }
          label={`Stone ${i + 1} is`}
          field={`stones.${i}.glued`}
          choices={STATES}
          {mistakes}
        />, <Word
          bind:value={
            () => f[`stones.${i}.from_joint_mm`] ?? '',
            (v) => (words.fields[`stones.${i}.from_joint_mm`] = v)
          }
          label={`Stone ${i + 1} from the cut`}
          field={`stones.${i}.from_joint_mm`}
          placeholder="in the head"
          {mistakes}
        />{GAP}and{GAP}{/if}{/each}{#if set.length || f['head.span_mm']}{GAP}(the head <Word
        bind:value={() => f['head.span_mm'] ?? '', (v) => (words.fields['head.span_mm'] = v)}
        label="Span of the head, at the inside"
        field="head.span_mm"
        placeholder="not measured"
        {mistakes}
      /> across){/if}. It has {#each [...own, own.length] as i (i)}<Choose
        bind:value={
          () => f[`features.${i}`] ?? '', (v) => (words.fields = setFeature(words.fields, i, v))
        }
        label={`Feature ${i + 1}`}
        field={`features.${i}`}
        choices={things(i)}
        {mistakes}
      />{#if i < own.length}{GAP}and{GAP}{/if}{/each}{#if has(f, 'pattern-all-round')}, its pitch <Word
        bind:value={
          () => f['pattern.pitch_mm'] ?? '', (v) => (words.fields['pattern.pitch_mm'] = v)
        }
        label="Pitch of the pattern"
        field="pattern.pitch_mm"
        placeholder="not measured"
        {mistakes}
      />
      <Choose
        bind:value={() => f['pattern.at'] ?? 'outside', (v) => (words.fields['pattern.at'] = v)}
        label="Pitch measured"
        field="pattern.at"
        choices={[
          { key: 'outside', title: 'outside' },
          { key: 'neutral', title: 'along the neutral line' },
        ]}
        {mistakes}
      />{/if}.
  </p>
  {#if read}<p class="text-soft mt-1 text-note">Read as {read}.</p>{/if}
  <Mistakes mistakes={mine} />
</section>
