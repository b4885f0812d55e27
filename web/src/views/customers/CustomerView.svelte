<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { gauges } from '$lib/gauges.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'

  let { customerId }: { customerId: number } = $props()
  let customer = $state.raw<Schemas['CustomerOut'] | null>(null)
  let missing = $state(false)
  let mistakes = $state.raw<Mistake[]>([])
  let name = $state('')
  let note = $state('')
  let finger = $state({ which: '', text: '', on: '', width: '', note: '' })
  const path = $derived({ customer_id: customerId })

  onMount(() => {
    void gauges.read()
    void settle(api.GET('/api/customers/{customer_id}', { params: { path } }))
  })

  async function settle(
    call: Promise<{ data?: Schemas['CustomerOut']; error?: unknown; response: Response }>,
  ) {
    const answer = await ask(call)
    if (answer?.problem) {
      missing = answer.problem.status === 404
      mistakes = answer.problem.errors
      if (answer.problem.version && customer)
        customer = { ...customer, version: answer.problem.version }
      return false
    }
    if (answer) {
      customer = answer.data
      name = answer.data.name
      note = answer.data.note
      mistakes = []
    }
    return true
  }

  function save(event: SubmitEvent) {
    event.preventDefault()
    const body = { name, note, version: customer?.version ?? 0 }
    void settle(api.PUT('/api/customers/{customer_id}', { params: { path }, body }))
  }

  async function measure(event: SubmitEvent) {
    event.preventDefault()
    const width = Number(finger.width.replace(',', '.'))
    const body = {
      which: finger.which,
      text: finger.text,
      gauge_id: finger.on ? Number(finger.on) : null,
      width_worn_mm: finger.width.trim() ? (Number.isNaN(width) ? -1 : width) : null,
      note: finger.note,
    }
    const call = api.POST('/api/customers/{customer_id}/fingers', { params: { path }, body })
    if (await settle(call)) finger = { which: '', text: '', on: finger.on, width: '', note: '' }
  }

  function forget(id: number) {
    const both = { customer_id: customerId, finger_id: id }
    void settle(
      api.DELETE('/api/customers/{customer_id}/fingers/{finger_id}', { params: { path: both } }),
    )
  }

  function make(one: Schemas['FingerOut']) {
    const draft = {
      size: one.text,
      gauge: one.gauge_id ? String(one.gauge_id) : '',
      customer: name,
      customerId: String(customerId),
    }
    sessionStorage.setItem('ring-start', JSON.stringify(draft))
    router.go('/ring')
  }
</script>

{#if missing}
  <h1 class="text-3xl">There is no such customer in this workshop.</h1>
{:else if customer}
  <div class="flex items-baseline justify-between">
    <h1 class="text-[30px] leading-tight font-semibold">{customer.name}</h1>
    <a class="quiet" href="/customers">all customers</a>
  </div>
  <form class="mt-2 text-[19px] leading-[1.9]" onsubmit={save}>
    <Word bind:value={name} label="Name" field="name" {mistakes} />
    <Word bind:value={note} label="Note" field="note" placeholder="a note" {mistakes} />
    <button class="quiet ml-2">save</button>
  </form>
  <h2 class="mt-6 text-[21px] font-medium">Fingers</h2>
  <ul class="border-hairline mt-2 border-t" aria-label="Fingers">
    {#each customer.fingers as one (one.id)}
      <li class="border-hairline flex flex-wrap items-baseline gap-x-6 border-b py-2">
        <span class="w-32">{one.which}</span>
        <span class="figure w-28 text-[28px]"><Say text={one.text} /></span>
        <span>on {one.gauge_name || 'an ideal scale'}, {one.inside_mm.toFixed(2)} mm inside</span>
        <span class="text-soft"
          >{one.taken_on}{one.width_worn_mm ? `; worn ${one.width_worn_mm} wide` : ''}{one.note
            ? `; ${one.note}`
            : ''}</span
        >
        <span class="ml-auto flex gap-5">
          <button type="button" class="quiet" onclick={() => make(one)}>make a ring</button>
          <button type="button" class="quiet" onclick={() => forget(one.id)}>forget</button>
        </span>
      </li>
    {:else}
      <li class="py-2">None yet: measure one.</li>
    {/each}
  </ul>
  <form class="mt-5 text-[20px] leading-[1.9]" aria-label="Measure a finger" onsubmit={measure}>
    The <Word
      bind:value={finger.which}
      label="Which finger"
      field="which"
      placeholder="left ring"
      {mistakes}
    /> takes
    <Word bind:value={finger.text} label="Size" field="text" placeholder="size" {mistakes} /> on
    <Choose
      bind:value={finger.on}
      label="On which gauge"
      field="gauge_id"
      choices={gauges.choices}
      {mistakes}
    />, worn
    <Word
      bind:value={finger.width}
      label="Width worn"
      field="width_worn_mm"
      placeholder="any"
      {mistakes}
    /> mm wide,
    <Word
      bind:value={finger.note}
      label="Note on the finger"
      field="note"
      placeholder="knuckle, season"
      {mistakes}
    />.
    <button class="act ml-2 text-[17px] leading-tight">Keep it</button>
    <Mistakes {mistakes} />
  </form>
{:else}
  <Mistakes {mistakes} />
{/if}
