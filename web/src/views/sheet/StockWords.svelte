<script lang="ts">
  import type { Catalogue, Mistake } from '$lib/api/client'
  import Choose from '$lib/parts/Choose.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { needsOf } from './order'

  interface Props {
    fields: Record<string, string>
    path: string
    label?: string
    profiles?: string[]
    catalogue: Catalogue
    mistakes: Mistake[]
  }
  let {
    fields = $bindable(),
    path,
    label = '',
    profiles = [],
    catalogue,
    mistakes,
  }: Props = $props()

  const at = (name: string) => `${path}.${name}`
  const needs = $derived(needsOf(fields[at('profile')] ?? '', catalogue))
  const choices = $derived(
    catalogue.profiles.filter((one) => !profiles.length || profiles.includes(one.key)),
  )
  const of = (what: string) => (label ? `${what}, ${label.toLowerCase()}` : what)
</script>

<Choose
  bind:value={() => fields[at('profile')] ?? '', (v) => (fields[at('profile')] = v)}
  label={of('Profile')}
  field={at('profile')}
  {choices}
  {mistakes}
/>
{#if needs.includes('width_mm')}<Word
    bind:value={() => fields[at('width_mm')] ?? '', (v) => (fields[at('width_mm')] = v)}
    label={of('Width along the finger')}
    field={at('width_mm')}
    placeholder="mm"
    {mistakes}
  /> wide,
{/if}
<Word
  bind:value={() => fields[at('thickness_mm')] ?? '', (v) => (fields[at('thickness_mm')] = v)}
  label={of('Thickness')}
  field={at('thickness_mm')}
  placeholder="mm"
  {mistakes}
/> thick{#if needs.includes('side_mm')}, sides
  <Word
    bind:value={() => fields[at('side_mm')] ?? '', (v) => (fields[at('side_mm')] = v)}
    label={of('Height of the straight side')}
    field={at('side_mm')}
    placeholder={fields[at('profile')] === 'court' ? 'a third' : 'half'}
    {mistakes}
  />{/if}
