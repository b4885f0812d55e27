<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { whenWords } from '$lib/text'

  /** One's own calendar address: made, shown this once, withdrawn. */
  let stands = $state.raw<Schemas['CalendarOut'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  let customers = $state(false)
  let copied = $state(false)
  onMount(async () => set(await ask(api.GET('/api/day/calendar'))))
  const address = $derived(stands?.path ? `${location.origin}${stands.path}` : '')

  function set(answer: Awaited<ReturnType<typeof ask<Schemas['CalendarOut']>>>) {
    if (!answer) return
    mistakes = answer.problem?.errors ?? []
    if (answer.data) stands = answer.data
    copied = false
  }
  const make = async () =>
    set(await ask(api.POST('/api/day/calendar', { body: { with_customers: customers } })))
  const withdraw = async () => set(await ask(api.DELETE('/api/day/calendar')))
  async function copy() {
    try {
      await navigator.clipboard.writeText(address)
      copied = true
    } catch {
      copied = false
    }
  }
</script>

<section class="mt-8" aria-label="Your calendar" data-testid="calendar">
  <h3 class="text-lead">Your calendar</h3>
  <p class="text-soft mt-1 max-w-[46rem] text-body">
    What is promised, waits that end and second looks, for any calendar that reads iCalendar. Who
    has the address can read it: jobs by their names, and nothing else of a customer unless you ask
    for it.
  </p>
  <Mistakes {mistakes} />
  {#if address}
    <p class="mt-3">
      <input
        class="word w-full max-w-[46rem]"
        readonly
        value={address}
        aria-label="Address of your calendar"
        onfocus={(event) => event.currentTarget.select()}
      />
    </p>
    <p class="mt-2">
      <button type="button" class="quiet" onclick={() => void copy()}
        >{copied ? 'copied' : 'copy it'}</button
      >
      <span class="text-soft ml-3">It is shown this once: paste it into your calendar now.</span>
    </p>
  {:else if stands?.made_at}
    <p class="mt-3">
      Read at an address that was made {whenWords(stands.made_at, clock.now)}{stands.with_customers
        ? ', with customers, tickets and notes'
        : ''}.
    </p>
  {/if}
  <p class="mt-3 flex flex-wrap items-baseline gap-x-6 gap-y-2">
    <label
      ><input type="checkbox" bind:checked={customers} /> with customers, tickets and notes</label
    >
    <button type="button" class="quiet" onclick={() => void make()}
      >{stands?.made_at ? 'make a new address' : 'make an address'}</button
    >
    {#if stands?.made_at}
      <button type="button" class="quiet" onclick={() => void withdraw()}>withdraw it</button>
    {/if}
  </p>
</section>
