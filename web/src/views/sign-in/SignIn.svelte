<script lang="ts">
  import type { Mistake } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import StripMotif from '$lib/parts/StripMotif.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'

  let { over }: { over: boolean } = $props()
  let username = $state('')
  let password = $state('')
  let mistakes = $state<Mistake[]>([])
  let busy = $state(false)
  let code = $state('')
  const demo = $derived(session.who?.demo)

  async function enter(event: SubmitEvent) {
    event.preventDefault()
    busy = true
    mistakes = session.who?.wants_code
      ? await session.giveCode(code)
      : await session.signIn(username.trim(), password)
    if (!mistakes.length) password = ''
    code = ''
    busy = false
  }
</script>

<section
  class={over ? 'bg-paper fixed inset-x-0 bottom-0 z-40 border-t-2 px-4 py-8 sm:px-9' : 'pt-8'}
  aria-labelledby="sign-in"
>
  {#if !over}
    <p class="max-w-[46rem] text-lead leading-[1.45]">
      Plain Shank is the bench companion of a ring maker: say the finger and the metal, and it says
      where to cut, why, and what to do next.
    </p>
    <div class="mt-5 mb-9"><StripMotif /></div>
  {/if}
  <form class="max-w-[46rem]" onsubmit={enter}>
    <h1 id="sign-in" class="text-title leading-tight">
      {over ? 'You were signed out. What you typed is kept.' : 'Whose bench is it?'}
    </h1>
    {#if session.who?.wants_code}
      <p class="mt-6 text-order leading-[2]">
        The code my app shows now is <Word
          bind:value={code}
          label="Code"
          field="code"
          placeholder="six figures"
          {mistakes}
        />
        <button class="btn btn-primary ml-3 text-lead leading-tight" disabled={busy || !code}
          >Come in</button
        >
      </p>
      <p class="text-soft mt-3 text-body">
        Without the app: one of your recovery codes, each good once. Has everything been lost,
        whoever runs the machine can take the second factor away.
      </p>
    {:else}
      <p class="mt-6 text-order leading-[2]">
        I am <Word
          bind:value={username}
          label="Name"
          field="username"
          placeholder="name"
          {mistakes}
        />
        and my word is <Word
          bind:value={password}
          label="Password"
          field="password"
          type="password"
          placeholder="password"
          {mistakes}
        />
        <button
          class="btn btn-primary ml-3 text-lead leading-tight"
          disabled={busy || !username || !password}>Sign in</button
        >
      </p>
    {/if}
    <Mistakes {mistakes} />
    {#if demo && !session.who?.wants_code}
      <p class="text-soft mt-8">
        This is the demo workshop: sign in as
        <strong class="text-ink font-medium">{demo.username}</strong>
        with <strong class="text-ink font-medium">{demo.password}</strong>, or
        <button
          type="button"
          class="quiet"
          onclick={() => {
            username = demo.username
            password = demo.password
          }}>fill it in</button
        >.
      </p>
    {/if}
  </form>
</section>
