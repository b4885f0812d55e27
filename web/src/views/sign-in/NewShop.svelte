<script lang="ts">
  import type { Mistake } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import NewPassword, { notTwice } from '$lib/parts/NewPassword.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'

  /** A workshop and its owner come in by the link of the installation, once. */
  let { link }: { link: string } = $props()
  let shop = $state('')
  let name = $state('')
  let username = $state('')
  let password = $state('')
  let again = $state('')
  let mistakes = $state<Mistake[]>([])
  let busy = $state(false)

  async function enter(event: SubmitEvent) {
    event.preventDefault()
    mistakes = notTwice(password, again)
    if (mistakes.length) return
    busy = true
    mistakes = await session.newShop({ link, shop, name, username: username.trim(), password })
    busy = false
    if (!mistakes.length) router.go('/')
  }
</script>

<form class="max-w-[46rem] pt-16" aria-label="The workshop" onsubmit={enter}>
  <h1 class="text-title leading-tight">Whose workshop is it?</h1>
  <p class="mt-6 text-order leading-[2]">
    It is called <Word
      bind:value={shop}
      label="Workshop"
      field="shop"
      placeholder="its name"
      {mistakes}
    />. I am <Word
      bind:value={name}
      label="Name"
      field="name"
      placeholder="first and last"
      {mistakes}
    />, sign in as <Word
      bind:value={username}
      label="Name to sign in with"
      field="username"
      placeholder="one word"
      {mistakes}
    /> and my word is <NewPassword bind:password bind:again field="password" {mistakes} />.
    <button
      class="btn btn-primary ml-3 text-lead leading-tight"
      disabled={busy || !shop.trim() || !username.trim() || !password || !again}>Come in</button
    >
  </p>
  <Mistakes {mistakes} />
  <p class="text-soft mt-6 text-body">
    You are its owner: you see everything, and invite the others once you are in.
  </p>
</form>
