<script lang="ts">
  import type { Mistake } from '$lib/api/client'
  import { mistakeId } from './mistakes'

  interface Props {
    value: string
    label: string
    field: string
    mistakes?: Mistake[]
    placeholder?: string
    type?: string
    /** How many letters can be typed. */
    most?: number
    list?: string
    onchange?: () => void
    /** Its field is left. */
    onleft?: () => void
  }
  let {
    value = $bindable(),
    label,
    field,
    mistakes = [],
    placeholder = '',
    type = 'text',
    most = 120,
    list,
    onchange,
    onleft,
  }: Props = $props()
  const wrong = $derived(mistakes.some((mistake) => mistake.field === field))
</script>

<input
  class="word"
  {type}
  bind:value
  {placeholder}
  {list}
  aria-label={label}
  aria-invalid={wrong}
  aria-describedby={wrong ? mistakeId(field) : undefined}
  autocomplete="off"
  spellcheck="false"
  maxlength={type === 'text' ? most : undefined}
  oninput={onchange}
  onblur={onleft}
  onfocus={(event) => type === 'text' && event.currentTarget.select()}
/>
