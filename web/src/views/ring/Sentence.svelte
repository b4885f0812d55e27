<script lang="ts">
  import type { Catalogue, Mistake, RingPlan } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import type { Words } from './order.svelte'

  interface Props {
    words: Words
    catalogue: Catalogue
    needs: string[]
    gauges: { key: string; title: string }[]
    mistakes: Mistake[]
    plan: RingPlan | null
  }
  let { words = $bindable(), catalogue, needs, gauges, mistakes, plan }: Props = $props()

  const TIMES = ['never', 'once', 'twice', 'three times'].map((title, i) => ({
    key: String(i),
    title,
  }))
  const WIDE = [
    { key: 'no', title: 'as measured' },
    { key: 'yes', title: 'larger' },
  ]
  const wide = $derived(needs.includes('width_mm'))
  const sided = $derived(needs.includes('side_mm'))
  // what the plan read the size as, where the text itself does not say it
  const read = $derived.by(() => {
    if (!plan || mistakes.length) return ''
    const said = words.size.trim().toLowerCase()
    return said && !/^[a-z]/.test(said) ? plan.target.text : ''
  })
  const own = $derived(
    mistakes.filter((m) => !['', 'title', 'customer_name', 'note', 'due'].includes(m.field)),
  )
</script>

<section aria-label="The order" class="min-w-0">
  <p class="text-[23px] leading-[1.62]">
    A plain band for finger
    <Word bind:value={words.size} label="Finger size" field="size" placeholder="size" {mistakes} />
    {#if gauges.length > 1}on <Choose
        bind:value={words.gauge}
        label="Read on"
        field="gauge"
        choices={gauges}
        {mistakes}
      />{/if}, in <Choose
      bind:value={words.metal}
      label="Metal"
      field="metal"
      choices={catalogue.metals}
      {mistakes}
    />, from
    <Choose
      bind:value={words.profile}
      label="Profile"
      field="stock.profile"
      choices={catalogue.profiles}
      {mistakes}
    />
    {#if wide}<Word
        bind:value={words.width}
        label="Width along the finger"
        field="stock.width_mm"
        placeholder="mm"
        {mistakes}
      /> wide,
    {/if}
    <Word
      bind:value={words.thickness}
      label="Thickness"
      field="stock.thickness_mm"
      placeholder="mm"
      {mistakes}
    /> thick{#if sided}, sides
      <Word
        bind:value={words.side}
        label="Height of the straight side"
        field="stock.side_mm"
        placeholder={words.profile === 'court' ? 'a third' : 'half'}
        {mistakes}
      />{/if}.
  </p>
  <p class="text-soft mt-2 text-[16px] leading-[1.75]">
    By the <Choose
      bind:value={words.rule}
      label="Rule"
      field="rule"
      choices={catalogue.rules}
      {mistakes}
    />: saw through the joint
    <Choose
      bind:value={words.saw}
      label="Saw passes"
      field="join.saw_passes"
      choices={TIMES}
      {mistakes}
    />
    with <Choose
      bind:value={words.blade}
      label="Saw blade"
      field="join.blade"
      choices={catalogue.blades}
      {mistakes}
    />, file it
    <Choose
      bind:value={words.file}
      label="File passes"
      field="join.file_passes"
      choices={TIMES}
      {mistakes}
    />, trim
    <Word bind:value={words.trim} label="Trim" field="join.trim_mm" placeholder="0" {mistakes} />,
    leave it <Choose
      bind:value={words.leave}
      label="Leave it"
      field="leave"
      choices={catalogue.leave}
      {mistakes}
    />, mark to
    <Word
      bind:value={words.round}
      label="Rounding"
      field="round_to_mm"
      placeholder="0"
      {mistakes}
    /> mm.
    {#if plan?.wide}It is wide: cut it
      <Choose
        bind:value={words.wide}
        label="Wide band"
        field="wide"
        choices={WIDE}
        {mistakes}
      />.{/if}
  </p>
  {#if read}
    <p class="text-soft mt-1 text-[16px]">
      <Say text={`Read as ${read}: ${plan?.target.inside_diameter_mm.toFixed(2)} mm inside.`} />
    </p>
  {/if}
  <Mistakes mistakes={own} />
</section>
