<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import { api, ask, isAway, type Mistake, type Problem, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { Editing } from '$lib/editing.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import { gauges } from '$lib/gauges.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { labelled } from '$lib/length.svelte'
  import Erase from '$lib/parts/Erase.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'

  const units = $derived(session.who?.ways?.units ?? 'mm')
  let { customerId }: { customerId: number } = $props()
  let customer = $state.raw<Schemas['CustomerOut'] | null>(null)
  let missing = $state(false)
  let mistakes = $state.raw<Mistake[]>([])
  const editing = untrack(
    () =>
      new Editing({
        sheet: `customers/${customerId}`,
        labels: { name: 'name', note: 'note' },
        stands: { name: '', note: '' },
        version: 0,
        theirs: (told) => ({ name: String(told.name), note: String(told.note) }),
      }),
  )
  const said = $derived(editing.said)
  const NEW = { which: '', text: '', on: '', width: '', note: '' }
  let finger = $state({ ...NEW })
  const here = $derived(`/customers/${customerId}`)
  const path = $derived({ customer_id: customerId })
  const fingerDraft = new Draft(
    untrack(() => `customers/${customerId}/finger`),
    () => ({ ...finger }),
    (typed) => (finger = typed),
  )
  onMount(() => {
    void gauges.read()
    void fingerDraft.begin()
    void read().then(() => editing.draft.begin())
  })
  $effect(() => editing.draft.keep())
  $effect(() => fingerDraft.keep())
  $effect(() =>
    outbox.listen((item, data) => {
      if (item.where !== here) return false
      if (editing.draft.owns(item.slot)) kept(data as Schemas['CustomerOut'])
      if (fingerDraft.owns(item.slot)) measured(item.body as { which: string; text: string })
      void read()
      return true
    }),
  )

  async function erase(): Promise<Mistake[]> {
    const params = { path: { customer_id: customerId } }
    const answer = await ask(api.DELETE('/api/customers/{customer_id}', { params }))
    if (!answer?.data) return answer?.problem?.errors ?? []
    router.go('/customers')
    return []
  }
  async function read() {
    const answer = await ask(api.GET('/api/customers/{customer_id}', { params: { path } }))
    if (answer?.data) lay(answer.data)
    else if (answer) fail(answer.problem)
  }
  /** Show what stands now; what was typed of the name and the note and not saved stays as it is. */
  function lay(read: Schemas['CustomerOut']) {
    customer = read
    mistakes = []
    editing.stand({ name: read.name, note: read.note }, read.version)
  }
  function fail(problem: Problem) {
    missing = problem.status === 404
    mistakes = isAway(problem.status) && customer ? [] : problem.errors
  }

  async function save(event?: SubmitEvent) {
    event?.preventDefault()
    const answer = await outbox.send<Schemas['CustomerOut']>({
      method: 'PUT',
      path: `/api/customers/${customerId}`,
      body: { ...editing.send(), version: editing.version },
      says: `what was said of ${said.name}`,
      where: here,
      slot: editing.draft.slot,
    })
    if (answer.problem) return editing.refused(answer.problem)
    kept(answer.data)
  }
  function kept(saved: Schemas['CustomerOut']) {
    customer = saved
    editing.saved({ name: saved.name, note: saved.note }, saved.version)
  }
  /** A finger was kept: the line is free for the next one, unless that is being typed already. */
  function measured(sent: { which: string; text: string }) {
    if (finger.which !== sent.which || finger.text !== sent.text) return
    finger = { ...NEW, on: finger.on }
    fingerDraft.done()
  }
  async function measure(event: SubmitEvent) {
    event.preventDefault()
    const sent = { which: finger.which, text: finger.text }
    const answer = await outbox.send<Schemas['CustomerOut']>({
      method: 'POST',
      path: `/api/customers/${customerId}/fingers`,
      body: {
        which: finger.which,
        text: finger.text,
        gauge_id: finger.on ? Number(finger.on) : null,
        width_worn_mm: finger.width.trim() || null,
        note: finger.note,
        typed_in: units,
      },
      says: `a finger of ${said.name}`,
      where: here,
      slot: fingerDraft.slot,
    })
    if (answer.problem) return fail(answer.problem)
    lay(answer.data)
    measured(sent)
  }
  async function forget(id: number) {
    const answer = await outbox.send<Schemas['CustomerOut']>({
      method: 'DELETE',
      path: `/api/customers/${customerId}/fingers/${id}`,
      body: undefined,
      says: `a finger of ${said.name} forgotten`,
      where: here,
    })
    if (answer.problem) fail(answer.problem)
    else lay(answer.data)
  }
  function make(one: Schemas['FingerOut']) {
    const draft = {
      size: one.text,
      gauge: one.gauge_id ? String(one.gauge_id) : '',
      customer: customer?.name ?? said.name,
      customerId: String(customerId),
    }
    sessionStorage.setItem('ring-start', JSON.stringify(draft))
    router.go('/ring')
  }
</script>

{#if missing}
  <h1 class="text-title">There is no such customer in this workshop.</h1>
{:else if customer}
  <div class="flex items-baseline justify-between">
    <h1 class="text-title leading-tight font-semibold">{customer.name}</h1>
    <a class="quiet" href="/customers">all customers</a>
  </div>
  <form class="mt-2 text-lead leading-[1.9]" onsubmit={save}>
    <Word bind:value={editing.said.name} label="Name" field="name" mistakes={editing.mistakes} />
    <Word
      bind:value={editing.said.note}
      label="Note"
      field="note"
      placeholder="a note"
      mistakes={editing.mistakes}
    />
    {#if !editing.rows}<button class="quiet ml-2">save</button>{/if}
    <DraftSays draft={editing.draft} />
    <Mistakes mistakes={editing.mistakes} />
  </form>
  <Theirs {editing} onsave={save} />
  <h2 class="mt-6 text-lead font-medium">Fingers</h2>
  <ul class="border-hairline mt-2 border-t" aria-label="Fingers">
    {#each customer.fingers as one (one.id)}
      <li class="border-hairline flex flex-wrap items-baseline gap-x-6 border-b py-2">
        <span class="w-32">{one.which}</span>
        <span class="figure w-28 text-title"><Say text={one.text} /></span>
        <span>on {one.gauge_name || 'an ideal scale'}, {labelled(one.inside_mm)} inside</span>
        <span class="text-soft"
          >{one.taken_on}{one.width_worn ? `; worn ${one.width_worn} wide` : ''}{one.note
            ? `; ${one.note}`
            : ''}</span
        >
        <span class="ml-auto flex gap-5">
          <button type="button" class="quiet" onclick={() => make(one)}>make a ring</button>
          {#if session.may('correct')}<button
              type="button"
              class="quiet"
              onclick={() => forget(one.id)}>forget</button
            >{/if}
        </span>
      </li>
    {:else}
      <li class="py-2">None yet: measure one.</li>
    {/each}
  </ul>
  <form class="mt-5 text-lead leading-[1.9]" aria-label="Measure a finger" onsubmit={measure}>
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
    />
    {units} wide,
    <Word
      bind:value={finger.note}
      label="Note on the finger"
      field="note"
      placeholder="knuckle, season"
      {mistakes}
    />.
    <button class="btn btn-primary ml-2 text-body leading-tight">Keep it</button>
    <DraftSays draft={fingerDraft} />
    <Mistakes {mistakes} />
  </form>
  {#if session.may('erase')}
    <div class="mt-10"><Erase who={customer.name} run={erase} /></div>
  {/if}
{:else}
  <Mistakes {mistakes} />
{/if}
