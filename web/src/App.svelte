<script lang="ts">
  import { onMount } from 'svelte'

  import { keys } from '$lib/keys.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { theme } from '$lib/theme.svelte'
  import BenchView from './views/bench/BenchView.svelte'
  import CardView from './views/card/CardView.svelte'
  import KeysSheet from './views/keys/KeysSheet.svelte'
  import RingView from './views/ring/RingView.svelte'
  import SignIn from './views/sign-in/SignIn.svelte'

  const LINKS = [
    { path: '/', says: 'Bench' },
    { path: '/ring', says: 'New ring' },
  ]
  const at = $derived(router.parts[0] ?? '')
  const number = $derived(Number(router.parts[1]))
  const here = (path: string) => (path === '/' ? at === '' || at === 'job' : router.path === path)

  onMount(() => {
    void session.start()
    return keys.add([
      { key: '?', says: 'these keys', run: () => (keys.sheet = !keys.sheet) },
      { key: 'b', says: 'the bench', run: () => router.go('/') },
      { key: 'n', says: 'a new ring', run: () => router.go('/ring') },
      { key: 'd', says: 'dim, and back', run: () => theme.toggle() },
    ])
  })
  $effect(() => {
    const name = at === 'ring' ? 'Ring' : at === 'job' ? 'Job' : 'Bench'
    document.title = `${name} · Plain Shank`
  })
</script>

<a href="#main" class="act sr-only focus:not-sr-only focus:absolute focus:z-50">Skip to the work</a>
<header class="flex flex-wrap items-baseline gap-x-8 gap-y-1 px-4 pt-4 sm:px-9">
  <p class="text-[17px] font-semibold">Plain Shank</p>
  {#if session.wasIn}
    <nav aria-label="Main" class="flex gap-7">
      {#each LINKS as link (link.path)}
        <a
          href={link.path}
          aria-current={here(link.path) ? 'page' : undefined}
          class={[
            'border-b-[3px] pb-2 font-medium',
            here(link.path)
              ? 'border-blue text-blue'
              : 'text-soft hover:text-ink border-transparent',
          ]}>{link.says}</a
        >
      {/each}
    </nav>
  {/if}
  <div class="text-soft ml-auto flex gap-7 font-medium">
    {#if session.wasIn}<span class="hidden md:inline">{session.who?.workshop}</span>{/if}
    <button type="button" class="hover:text-ink cursor-pointer" onclick={() => theme.toggle()}>
      {theme.dim ? 'light' : 'dim'}
    </button>
    <button type="button" class="hover:text-ink cursor-pointer" onclick={() => (keys.sheet = true)}>
      keys ?
    </button>
    {#if session.who?.signed_in}
      <button type="button" class="hover:text-ink cursor-pointer" onclick={() => session.signOut()}>
        sign out
      </button>
    {/if}
  </div>
</header>

<main id="main" class="px-4 pt-6 pb-12 sm:px-9">
  {#if session.away.length}
    <Mistakes mistakes={session.away} />
    <button type="button" class="act mt-4" onclick={() => session.start()}>Try again</button>
  {:else if session.wasIn && session.catalogue}
    {#if at === 'ring'}
      {#key router.path}<RingView catalogue={session.catalogue} jobId={number || null} />{/key}
    {:else if at === 'job' && number}
      {#key router.path}<CardView jobId={number} />{/key}
    {:else if at === ''}
      <BenchView />
    {:else}
      <h1 class="text-3xl">There is no such place.</h1>
      <p class="mt-3"><a class="quiet" href="/">Back to the bench</a></p>
    {/if}
  {/if}
  {#if session.who && !session.who.signed_in}
    <SignIn over={session.wasIn} />
  {/if}
</main>
{#if keys.sheet}<KeysSheet />{/if}
