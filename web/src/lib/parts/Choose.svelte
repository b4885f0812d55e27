<script lang="ts">
  import type { Mistake } from '$lib/api/client'
  import { mistakeId } from './mistakes'

  interface Props {
    value: string
    label: string
    field: string
    choices: { key: string; title: string }[]
    mistakes?: Mistake[]
  }
  let { value = $bindable(), label, field, choices, mistakes = [] }: Props = $props()
  const wrong = $derived(mistakes.some((mistake) => mistake.field === field))
</script>

<select
  class="word"
  bind:value
  aria-label={label}
  aria-invalid={wrong}
  aria-describedby={wrong ? mistakeId(field) : undefined}
>
  {#each choices as choice (choice.key)}
    <option value={choice.key}>{choice.title}</option>
  {/each}
</select>
