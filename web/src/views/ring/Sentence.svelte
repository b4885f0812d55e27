<script lang="ts">
  import type { Catalogue, Mistake, RingPlan } from '$lib/api/client'
  import { labelled } from '$lib/length.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { notKept } from '../sheet/labels'
  import type { Words } from '../sheet/order'
  import OrderWords from '../sheet/OrderWords.svelte'
  import StockWords from '../sheet/StockWords.svelte'
  import { wordsOf, type StyleSpec } from './order'

  interface Props {
    words: Words
    style: StyleSpec
    catalogue: Catalogue
    gauges: { key: string; title: string }[]
    mistakes: Mistake[]
    plan: RingPlan | null
    onstyle: (key: string) => void
  }
  let { words = $bindable(), style, catalogue, gauges, mistakes, plan, onstyle }: Props = $props()

  const GAP = ' '
  const TIMES = ['never', 'once', 'twice', 'three times'].map((title, i) => ({
    key: String(i),
    title,
  }))
  const WIDE = [
    { key: 'no', title: 'as measured' },
    { key: 'yes', title: 'larger' },
  ]
  const said = $derived(wordsOf(style))
  // these begin a sentence of their own, after a full stop that stands there already
  const every = $derived(
    said.every.map((word, i) => (i ? word : { ...word, before: word.before.replace('. ', '') })),
  )
  const article = $derived(/^[aeiou]/.test(style.title) ? 'An' : 'A')
  // an open shank has its ends soldered to the top: there is no joint to saw through
  const sawn = $derived(
    style.joined && !(plan?.style === style.key && plan.joints[0]?.key === 'ends'),
  )
  // what the plan read the size as, where the text itself does not say it
  const read = $derived.by(() => {
    if (!plan || mistakes.length) return ''
    const said = (words.fields.size ?? '').trim().toLowerCase()
    return said && !/^[a-z]/.test(said) ? plan.target.text : ''
  })
  const f = $derived(words.fields)
</script>

<section aria-label="The order" class="min-w-0">
  <p class="text-order leading-[1.62]">
    {article}
    <Choose
      bind:value={() => style.key, onstyle}
      label="Style"
      field="style"
      choices={catalogue.styles}
      {mistakes}
    /> for finger
    <Word
      bind:value={() => f.size ?? '', (v) => (words.fields.size = v)}
      label="Finger size"
      field="size"
      placeholder="size"
      {mistakes}
    />
    {#if gauges.length > 1}on <Choose
        bind:value={words.gauge}
        label="Read on"
        field="gauge"
        choices={gauges}
        {mistakes}
      />{/if}, in <Choose
      bind:value={() => f.metal ?? '', (v) => (words.fields.metal = v)}
      label="Metal"
      field="metal"
      choices={catalogue.metals}
      {mistakes}
    />, {style.stock_says}
    <StockWords
      bind:fields={words.fields}
      path="stock"
      profiles={style.profiles}
      {catalogue}
      {mistakes}
    />{#if said.own.length},
      <OrderWords bind:fields={words.fields} words={said.own} {catalogue} {mistakes} />{/if}.
  </p>
  <p class="text-soft mt-2 text-note leading-[1.75]">
    By the <Choose
      bind:value={() => f.rule ?? '', (v) => (words.fields.rule = v)}
      label="Rule"
      field="rule"
      choices={catalogue.rules}
      {mistakes}
    />:
    {#if sawn}saw through the joint
      <Choose
        bind:value={() => f['join.saw_passes'] ?? '', (v) => (words.fields['join.saw_passes'] = v)}
        label="Saw passes"
        field="join.saw_passes"
        choices={TIMES}
        {mistakes}
      />
      with <Choose
        bind:value={() => f['join.blade'] ?? '', (v) => (words.fields['join.blade'] = v)}
        label="Saw blade"
        field="join.blade"
        choices={catalogue.blades}
        {mistakes}
      />, file it
      <Choose
        bind:value={
          () => f['join.file_passes'] ?? '', (v) => (words.fields['join.file_passes'] = v)
        }
        label="File passes"
        field="join.file_passes"
        choices={TIMES}
        {mistakes}
      />,
    {/if}{GAP}trim
    <Word
      bind:value={() => f['join.trim_mm'] ?? '', (v) => (words.fields['join.trim_mm'] = v)}
      label="Trim"
      field="join.trim_mm"
      placeholder="0"
      {mistakes}
    />, leave it <Choose
      bind:value={() => f.leave ?? '', (v) => (words.fields.leave = v)}
      label="Leave it"
      field="leave"
      choices={catalogue.leave}
      {mistakes}
    />, mark to
    <Word
      bind:value={() => f.round_to_mm ?? '', (v) => (words.fields.round_to_mm = v)}
      label="Rounding"
      field="round_to_mm"
      placeholder="0"
      {mistakes}
    />
    {catalogue.units}.
    {#if plan?.wide}It is wide: cut it
      <Choose
        bind:value={() => f.wide ?? '', (v) => (words.fields.wide = v)}
        label="Wide band"
        field="wide"
        choices={WIDE}
        {mistakes}
      />.{/if}<OrderWords bind:fields={words.fields} words={every} {catalogue} {mistakes} />.
  </p>
  {#if read}
    <p class="text-soft mt-1 text-note">
      <Say text={`Read as ${read}: ${labelled(plan?.target.inside_diameter_mm ?? 0)} inside.`} />
    </p>
  {/if}
  <Mistakes mistakes={notKept(mistakes)} />
</section>
