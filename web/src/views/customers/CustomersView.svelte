<script lang="ts">
  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'

  let words = $state('')
  let name = $state('')
  let found = $state.raw<Schemas['CustomerOut'][]>([])
  let loaded = $state(false)
  let mistakes = $state.raw<Mistake[]>([])

  $effect(() => {
    const q = words
    const abort = new AbortController()
    const timer = setTimeout(async () => {
      const answer = await ask(
        api.GET('/api/customers', { params: { query: { q } }, signal: abort.signal }),
      )
      if (answer?.data) {
        found = answer.data
        loaded = true
      }
    }, 60)
    return () => {
      clearTimeout(timer)
      abort.abort()
    }
  })

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    const answer = await ask(api.POST('/api/customers', { body: { name, note: '' } }))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) router.go(`/customers/${answer.data.id}`)
  }
</script>

<h1 class="text-[30px] leading-tight">Customers and their fingers</h1>
<p class="mt-3 text-[20px]">
  Look for <Word bind:value={words} label="Look for" field="q" placeholder="part of a name" />
</p>
<ul class="border-hairline mt-4 border-t" aria-label="Customers found">
  {#each found as customer (customer.id)}
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
    {#if loaded}<li class="py-2">Nobody of that name.</li>{/if}
  {/each}
</ul>
<form class="mt-5 text-[20px] leading-[1.9]" onsubmit={keep}>
  A new customer: <Word
    bind:value={name}
    label="Name of the customer"
    field="name"
    placeholder="name"
    {mistakes}
  />
  <button class="act ml-2 text-[17px] leading-tight">Keep</button>
  <Mistakes {mistakes} />
</form>
