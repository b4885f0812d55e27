<script lang="ts">
  import type { Job, Mistake } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import type { Words } from './order.svelte'

  interface Props {
    words: Words
    suggestion: string
    job: Job | null
    mistakes: Mistake[]
    busy: boolean
    theirs: number
    onkeep: () => void
  }
  let { words = $bindable(), suggestion, job, mistakes, busy, theirs, onkeep }: Props = $props()
  const own = $derived(
    mistakes.filter((m) => ['', 'title', 'customer_name', 'note', 'due'].includes(m.field)),
  )
  const does = $derived(
    theirs ? 'Save over theirs' : job ? 'Save the order' : 'Put it on the bench',
  )
</script>

<form
  aria-label="Keep it"
  class="min-w-0"
  onsubmit={(event) => {
    event.preventDefault()
    onkeep()
  }}
>
  <p class="text-[17px] leading-[1.72]">
    For <Word
      bind:value={words.customer}
      label="Customer"
      field="customer_name"
      placeholder="nobody yet"
      {mistakes}
    /><br />
    as <Word
      bind:value={words.title}
      label="Name of the job"
      field="title"
      placeholder={suggestion || 'a name'}
      {mistakes}
    /><br />
    by <Word bind:value={words.day} label="Due day" field="due" type="date" {mistakes} />
    {#if words.day}<Word
        bind:value={words.hour}
        label="Due hour"
        field="due"
        type="time"
        {mistakes}
      />{/if}<br />
    <Word bind:value={words.note} label="Note" field="note" placeholder="a note" {mistakes} />
  </p>
  <button class="act mt-2 text-[17px]" disabled={busy}>{does}</button>
  <Mistakes mistakes={own} />
</form>
