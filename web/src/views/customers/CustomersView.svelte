<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, isAway, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { Live } from '$lib/live.svelte'
  import { Pages } from '$lib/pages.svelte'
  import { router } from '$lib/router.svelte'

  let words = $state('')
  let name = $state('')
  const found = new Pages<Schemas['CustomerOut']>()
  const live = new Live<null>(60)
  let mistakes = $state.raw<Mistake[]>([])

  $effect(() => {
    const q = words
    return live.want(async (signal) => {
      await found.begin((offset) =>
        ask(api.GET('/api/customers', { params: { query: { q, offset } }, signal })),
      )
      return undefined
    })
  })

  const draft = new Draft(
    'customers',
    () => ({ name }),
    (typed) => ({ name } = typed),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    const answer = await outbox.send<Schemas['CustomerOut']>({
      method: 'POST',
      path: '/api/customers',
      body: { name, note: '' },
      says: `the new customer ${name}`,
      where: '/customers',
      slot: draft.slot,
    })
    if (answer.problem) mistakes = isAway(answer.problem.status) ? [] : answer.problem.errors
    else {
      draft.done()
      router.go(`/customers/${answer.data.id}`)
    }
  }
</script>

<h1 class="text-title leading-tight">Customers and their fingers</h1>
<p class="mt-3 text-lead">
  Look for <Word bind:value={words} label="Look for" field="q" placeholder="part of a name" />
</p>
<ul class="border-hairline mt-4 border-t" aria-label="Customers found">
  {#each found.items as customer (customer.id)}
    {@const finger = customer.fingers[0]}
    <li class="border-hairline border-b">
      <a href={`/customers/${customer.id}`} class="hover:bg-wash flex flex-wrap gap-x-8 py-2">
        <span class="w-56 font-medium">{customer.name}</span>
        {#if finger}
          <span
            ><Say text={`${finger.which} ${finger.text}`} />{finger.gauge_name
              ? ` on ${finger.gauge_name}`
              : ''}</span
          >
          <span class="text-soft">{finger.taken_on}</span>
        {:else}<span class="text-soft">no finger measured yet</span>{/if}
      </a>
    </li>
  {:else}
    {#if found.read}<li class="py-2">Nobody of that name.</li>{/if}
  {/each}
</ul>
{#if found.more}
  <button type="button" class="quiet mt-2" onclick={() => found.go()}
    >{found.items.length} of {found.count}: go on</button
  >
{/if}

<form class="mt-5 text-lead leading-[1.9]" onsubmit={keep}>
  A new customer: <Word
    bind:value={name}
    label="Name of the customer"
    field="name"
    placeholder="name"
    {mistakes}
  />
  {#if outbox.from('/customers').length}<span class="text-flame-text">is on its way</span>
  {:else}<button class="btn btn-primary ml-2 text-body leading-tight">Keep</button>{/if}
  <DraftSays {draft} />
  <Mistakes {mistakes} />
</form>
