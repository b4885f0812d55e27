<script lang="ts">
  import { api, ask, type Job, type Mistake, type Schemas } from '$lib/api/client'
  import { Live } from '$lib/live.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import DayWord from '$lib/parts/DayWord.svelte'
  import { readHour } from '$lib/day'
  import Word from '$lib/parts/Word.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import { OWN_WAYS, TODAY, type Words } from './order'

  interface Props {
    words: Words
    suggestion: string
    job: Job | null
    mistakes: Mistake[]
    busy: boolean
    ontheirs: boolean
    /** A finger on file is taken: each sheet knows where its wanted size stands; none where it is nobody's ring. */
    onfinger?: (finger: Schemas['FingerOut']) => void
    onkeep: () => void
  }
  let {
    words = $bindable(),
    suggestion,
    job,
    mistakes,
    busy,
    ontheirs,
    onfinger,
    onkeep,
  }: Props = $props()
  const OWN = ['', 'title', 'customer_name', 'note', 'due', 'hour', 'ticket']
  const live = new Live<Schemas['Customers']>(60)
  const found = $derived(live.answer?.items ?? [])
  let asked = $state(false)
  const named = $derived(
    found.find((one) => one.name.toLowerCase() === words.customer.trim().toLowerCase()),
  )
  const fingers = $derived(named?.fingers.slice(0, 3) ?? [])

  $effect(() => {
    const q = words.customer.trim()
    if (!q) {
      live.clear()
      asked = true
      return
    }
    return live.want(async (signal) => {
      const answer = await ask(api.GET('/api/customers', { params: { query: { q } }, signal }))
      asked = answer !== undefined && !answer.problem
      return answer?.problem ? undefined : answer
    })
  })
  // while nobody has answered yet the customer of a kept job stays its own
  $effect(() => {
    const id = named ? String(named.id) : ''
    if (id || asked) words.customerId = id
  })

  const own = $derived(mistakes.filter((m) => OWN.includes(m.field)))
  const does = $derived(job ? 'Save the order' : 'Put it on the bench')
</script>

<form
  aria-label="Keep it"
  class="min-w-0"
  onsubmit={(event) => {
    event.preventDefault()
    onkeep()
  }}
>
  <p class="text-body leading-[1.72]">
    {#if onfinger}For <Word
        bind:value={words.customer}
        label="Customer"
        field="customer_name"
        placeholder="nobody yet"
        list="customers"
        {mistakes}
      /><br />
      as&nbsp;{:else}As&nbsp;{/if}<Word
      bind:value={words.title}
      label="Name of the job"
      field="title"
      placeholder={suggestion || 'a name'}
      {mistakes}
    /><br />
    by <DayWord bind:value={words.day} label="Due day" field="due" {mistakes} />
    {#if words.day.trim()}at <Word
        bind:value={words.hour}
        label="Due hour"
        field="hour"
        placeholder="17:00"
        {mistakes}
        onleft={() => (words.hour = readHour(words.hour) ?? words.hour)}
      />{/if}<br />
    <Word bind:value={words.note} label="Note" field="note" placeholder="a note" {mistakes} /><br />
    ticket <Word
      bind:value={words.ticket}
      label="Ticket"
      field="ticket"
      placeholder="its number"
      {mistakes}
    />{#if job}<br />
      in <Choose
        bind:value={words.ways}
        label="Ways"
        field="ways"
        choices={[
          { key: OWN_WAYS, title: 'the ways it was saved with' },
          { key: TODAY, title: 'today’s ways' },
        ]}
      />{/if}
  </p>
  <datalist id="customers">
    {#each found as one (one.id)}<option value={one.name}></option>{/each}
  </datalist>
  {#each fingers as finger (finger.id)}
    <p class="text-small leading-snug">
      <button type="button" class="quiet" onclick={() => onfinger?.(finger)}
        ><Say text={`${finger.which} ${finger.text}`} /></button
      >
      {finger.gauge_name ? `on ${finger.gauge_name}` : ''}
      <span class="text-soft">{finger.taken_on}</span>
    </p>
  {/each}
  {#if !ontheirs}<button class="btn btn-primary mt-2 text-body" disabled={busy}>{does}</button>{/if}
  <Mistakes mistakes={own} />
</form>
