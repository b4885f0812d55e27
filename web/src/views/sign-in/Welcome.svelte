<script lang="ts">
  import type { Mistake } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import NewPassword, { notTwice } from '$lib/parts/NewPassword.svelte'
  import NewShop from './NewShop.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'

  // the secret stands behind the #: it is taken out of the address before anything is shown
  const link = location.hash.slice(1)
  history.replaceState(null, '', '/welcome')
  const NEW = 'new.'
  let password = $state('')
  let again = $state('')
  let mistakes = $state<Mistake[]>([])
  let busy = $state(false)

  async function enter(event: SubmitEvent) {
    event.preventDefault()
    mistakes = notTwice(password, again)
    if (mistakes.length) return
    busy = true
    mistakes = await session.welcome(link, password)
    busy = false
    if (!mistakes.length) router.go('/') // a code may have to follow: the sign-in asks for it
  }
</script>

{#if link.startsWith(NEW)}
  <NewShop {link} />
{:else}
  <form class="max-w-[46rem] pt-16" onsubmit={enter}>
    <h1 class="text-title leading-tight">Welcome to the bench.</h1>
    <p class="mt-6 text-order leading-[2]">
      My word from now on is <NewPassword bind:password bind:again field="password" {mistakes} />
      <button
        class="btn btn-primary ml-3 text-lead leading-tight"
        disabled={busy || !password || !again}>Come in</button
      >
    </p>
    <Mistakes {mistakes} />
    {#if !link}<p class="text-soft">
        This page is opened by the link that the shop's owner was given.
      </p>{/if}
  </form>
{/if}
