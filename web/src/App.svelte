<script lang="ts">
  import { onMount } from 'svelte'

  import { caliper } from '$lib/caliper.svelte'
  import type { Mistake } from '$lib/api/client'
  import { keys } from '$lib/keys.svelte'
  import { finding } from '$lib/finding.svelte'
  import CaliperPanel from '$lib/parts/CaliperPanel.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import OutboxBar from '$lib/parts/OutboxBar.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { theme } from '$lib/theme.svelte'
  import BenchView from './views/bench/BenchView.svelte'
  import CardView from './views/card/CardView.svelte'
  import ChartsView from './views/charts/ChartsView.svelte'
  import CustomersView from './views/customers/CustomersView.svelte'
  import CustomerView from './views/customers/CustomerView.svelte'
  import FindLine from './views/find/FindLine.svelte'
  import GaugesView from './views/gauges/GaugesView.svelte'
  import GaugeView from './views/gauges/GaugeView.svelte'
  import KeysSheet from './views/keys/KeysSheet.svelte'
  import RingView from './views/ring/RingView.svelte'
  import SignIn from './views/sign-in/SignIn.svelte'
  import Welcome from './views/sign-in/Welcome.svelte'
  import TrueSizeView from './views/true-size/TrueSizeView.svelte'
  import WaysView from './views/ways/WaysView.svelte'

  const LINKS = [
    { path: '/', says: 'Bench' },
    { path: '/ring', says: 'New ring' },
    { path: '/customers', says: 'Customers' },
    { path: '/gauges', says: 'Gauges' },
    { path: '/ways', says: 'Ways' },
  ]
  const at = $derived(router.parts[0] ?? '')
  let stuck = $state.raw<Mistake[]>([])
  const number = $derived(Number(router.parts[1]))
  const here = (path: string) =>
    path === '/' ? at === '' || at === 'job' : `/${at}` === path && !(path === '/ring' && number)

  onMount(() => {
    void session.start()
    return keys.add([
      { key: '?', says: 'these keys', run: () => (keys.sheet = !keys.sheet) },
      { key: 'b', says: 'the bench', run: () => router.go('/') },
      { key: 'n', says: 'a new ring', run: () => router.go('/ring') },
      { key: 'd', says: 'dim, and back', run: () => theme.toggle() },
      { key: 'g', says: 'the gauges', run: () => router.go('/gauges') },
      { key: 'u', says: 'the customers', run: () => router.go('/customers') },
      { key: 's', says: 'find a job', run: () => session.wasIn && (finding.open = true) },
      { key: 'c', says: 'the simulated caliper', run: () => (caliper.panel = !caliper.panel) },
    ])
  })
  $effect(() => {
    const name = at ? at.slice(0, 1).toUpperCase() + at.slice(1).replace('-', ' ') : 'Bench'
    document.title = `${name} · Plain Shank`
  })
</script>

<a href="#main" class="act sr-only focus:not-sr-only focus:absolute focus:z-50">Skip to the work</a>
<header class="flex flex-wrap items-baseline gap-x-8 gap-y-1 px-4 pt-4 sm:px-9">
  <p class="text-[17px] font-semibold">Plain Shank</p>
  {#if session.wasIn}
    <nav aria-label="Main" class="flex flex-wrap gap-x-7">
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
      <button
        type="button"
        class="hover:text-ink cursor-pointer"
        aria-label="find a job"
        onclick={() => (finding.open = true)}>find</button
      >
      <button
        type="button"
        class="hover:text-ink cursor-pointer"
        onclick={async () => (stuck = await session.signOut())}
      >
        sign out
      </button>
    {/if}
  </div>
</header>

{#if session.wasIn}<OutboxBar />{/if}
<main id="main" class="px-4 pt-6 pb-12 sm:px-9">
  <Mistakes mistakes={stuck} />
  {#if session.away.length}
    <Mistakes mistakes={session.away} />
    <button type="button" class="act mt-4" onclick={() => session.start()}>Try again</button>
  {/if}
  {#if session.wasIn && session.catalogue && at === 'welcome'}
    <h1 class="text-3xl">You are in.</h1>
    <p class="mt-3"><a class="quiet" href="/">To the bench</a></p>
  {:else if session.wasIn && session.catalogue}
    {#if at === 'ring'}
      {#key router.path}<RingView catalogue={session.catalogue} jobId={number || null} />{/key}
    {:else if at === 'job' && number}
      {#key router.path}<CardView jobId={number} />{/key}
    {:else if at === 'gauges' && number}
      {#key router.path}<GaugeView catalogue={session.catalogue} gaugeId={number} />{/key}
    {:else if at === 'gauges'}
      <GaugesView catalogue={session.catalogue} />
    {:else if at === 'charts'}
      <ChartsView />
    {:else if at === 'customers' && number}
      {#key router.path}<CustomerView customerId={number} />{/key}
    {:else if at === 'customers'}
      <CustomersView />
    {:else if at === 'ways'}
      <WaysView catalogue={session.catalogue} />
    {:else if at === 'true-size'}
      <TrueSizeView />
    {:else if at === ''}
      <BenchView />
    {:else}
      <h1 class="text-3xl">There is no such place.</h1>
      <p class="mt-3"><a class="quiet" href="/">Back to the bench</a></p>
    {/if}
  {/if}
  {#if session.who && !session.who.signed_in}
    {#if at === 'welcome' && !session.wasIn}<Welcome />{:else}<SignIn over={session.wasIn} />{/if}
  {/if}
</main>
{#if keys.sheet}<KeysSheet />{/if}
{#if finding.open && session.wasIn}<FindLine />{/if}
{#if caliper.panel && session.wasIn}<CaliperPanel />{/if}
