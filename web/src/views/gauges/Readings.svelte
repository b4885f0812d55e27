<script lang="ts">
  import { tick } from 'svelte'

  import type { Mistake } from '$lib/api/client'
  import { session } from '$lib/session.svelte'

  interface Row {
    mark: string
    mm: string
  }
  let { rows = $bindable(), mistakes }: { rows: Row[]; mistakes: Mistake[] } = $props()
  const inches = $derived(session.who?.ways?.caliper_units === 'in')
  const wrong = (i: number, part: string) =>
    mistakes.some((m) => m.field === `readings.${i}.${part}`)

  /** Enter goes on: from the mark to its reading, from the reading to the next mark. */
  async function onward(event: KeyboardEvent, i: number, part: 'mark' | 'mm') {
    if (event.key !== 'Enter') return
    event.preventDefault()
    if (part === 'mm' && i === rows.length - 1) rows.push({ mark: '', mm: '' })
    await tick()
    const next = part === 'mark' ? `mm-${i}` : `mark-${i + 1}`
    document.querySelector<HTMLInputElement>(`[data-measure="${next}"]`)?.focus()
  }
</script>

{#each rows as row, i (i)}
  <p class="text-lead leading-[1.8]">
    mark <input
      class="word"
      data-measure={`mark-${i}`}
      bind:value={row.mark}
      aria-label={`Mark ${i + 1}`}
      aria-invalid={wrong(i, 'mark')}
      placeholder="6"
      autocomplete="off"
      maxlength="20"
      onkeydown={(event) => onward(event, i, 'mark')}
    />
    reads
    <input
      class="word"
      data-measure={`mm-${i}`}
      bind:value={row.mm}
      aria-label={`Reading ${i + 1}`}
      aria-invalid={wrong(i, 'diameter_mm')}
      placeholder={inches ? '0.650' : '16.51'}
      inputmode="decimal"
      autocomplete="off"
      maxlength="20"
      onkeydown={(event) => onward(event, i, 'mm')}
    />
  </p>
{/each}
<button type="button" class="quiet" onclick={() => rows.push({ mark: '', mm: '' })}
  >another mark</button
>
