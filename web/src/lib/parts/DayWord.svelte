<script lang="ts">
  import { onMount } from 'svelte'

  import type { Mistake } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { dayFrom, dayText, readDay } from '$lib/day'
  import { fetchWords } from '$lib/day-words.svelte'
  import Word from './Word.svelte'

  interface Props {
    /** The day as it is typed. */
    value: string
    label: string
    field: string
    mistakes?: Mistake[]
  }
  let { value = $bindable(), label, field, mistakes = [] }: Props = $props()
  onMount(() => void fetchWords())
  const day = $derived(value.trim() ? readDay(value, clock.now) : null)

  /** Left, it says its date in full: fri means another day next week. */
  function left() {
    if (day) value = dayText(day)
  }
</script>

<span onfocusout={left}>
  <Word bind:value {label} {field} placeholder="fri, 5 dec" {mistakes} />
</span>
{#if value.trim()}
  <!-- stays when the field is left: nothing below may move away from under a finger -->
  <span class={['block text-small', day ? 'text-blue' : 'text-soft']} aria-live="polite"
    >{day ? dayFrom(day, clock.now) : 'such as fri, 5 dec or in 3 days'}</span
  >
{/if}
