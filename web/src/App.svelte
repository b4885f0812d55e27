<script lang="ts">
  import { onMount, type Component } from 'svelte'

  import { caliper } from '$lib/caliper.svelte'
  import type { Catalogue, Mistake } from '$lib/api/client'
  import { keys } from '$lib/keys.svelte'
  import { finding } from '$lib/finding.svelte'
  import CaliperPanel from '$lib/parts/CaliperPanel.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import KeptBar from '$lib/parts/KeptBar.svelte'
  import OutboxBar from '$lib/parts/OutboxBar.svelte'
  import { pulse } from '$lib/pulse.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import { theme } from '$lib/theme.svelte'
  import BenchView from './views/bench/BenchView.svelte'
  import Ended from './views/day/Ended.svelte'
  import FindLine from './views/find/FindLine.svelte'
  import KeysSheet from './views/keys/KeysSheet.svelte'
  import SignIn from './views/sign-in/SignIn.svelte'
  import Welcome from './views/sign-in/Welcome.svelte'
  import { WORKS, type WorkView } from './views/works'

  /** What stands at a path: its first part, whether a number follows, and its place in the navigation. */
  interface Route {
    at: string
    one?: boolean
    view?: Component<Record<string, unknown>>
    /** A view that is fetched when it is gone to, so that a bench opens without it. */
    load?: () => Promise<{ default: Component<Record<string, unknown>> }>
    nav?: string
    props?: (catalogue: Catalogue, number: number) => Record<string, unknown>
  }
  /** The sheet of a kind of work: a new one, and one that is kept. */
  function sheetOf({ at, nav, sheet }: WorkView) {
    const view = sheet as Component<Record<string, unknown>>
    return [
      {
        at,
        one: true,
        view,
        props: (catalogue: Catalogue, jobId: number) => ({ catalogue, jobId }),
      },
      { at, nav, view, props: (catalogue: Catalogue) => ({ catalogue, jobId: null }) },
    ]
  }
  const ROUTES = [
    { at: '', view: BenchView, nav: 'Bench' },
    {
      at: 'job',
      one: true,
      load: () => import('./views/card/CardView.svelte'),
      props: (_, jobId) => ({ jobId }),
    },
    ...WORKS.flatMap(sheetOf),
    {
      at: 'drawer',
      one: true,
      load: () => import('./views/drawer/ItemView.svelte'),
      props: (catalogue, itemId) => ({ catalogue, itemId }),
    },
    {
      at: 'drawer',
      load: () => import('./views/drawer/DrawerView.svelte'),
      nav: 'Drawer',
      props: (catalogue) => ({ catalogue }),
    },
    {
      at: 'mill',
      load: () => import('./views/mill/MillView.svelte'),
      props: (catalogue) => ({ catalogue }),
    },
    {
      at: 'melt',
      load: () => import('./views/melt/MeltView.svelte'),
      props: (catalogue) => ({ catalogue }),
    },
    {
      at: 'customers',
      one: true,
      load: () => import('./views/customers/CustomerView.svelte'),
      props: (_, customerId) => ({ customerId }),
    },
    {
      at: 'customers',
      load: () => import('./views/customers/CustomersView.svelte'),
      nav: 'Customers',
    },
    {
      at: 'gauges',
      one: true,
      load: () => import('./views/gauges/GaugeView.svelte'),
      props: (catalogue, gaugeId) => ({ catalogue, gaugeId }),
    },
    {
      at: 'gauges',
      load: () => import('./views/gauges/GaugesView.svelte'),
      nav: 'Gauges',
      props: (catalogue) => ({ catalogue }),
    },
    {
      at: 'logbook',
      one: true,
      load: () => import('./views/logbook/OneRing.svelte'),
      props: (_, jobId) => ({ jobId }),
    },
    {
      at: 'logbook',
      load: () => import('./views/logbook/LogbookView.svelte'),
      nav: 'Logbook',
    },
    {
      at: 'why',
      load: () => import('./views/logbook/WhyView.svelte'),
      props: (catalogue) => ({ catalogue }),
    },
    { at: 'charts', load: () => import('./views/charts/ChartsView.svelte') },
    { at: 'batch', load: () => import('./views/batch/BatchView.svelte') },
    {
      at: 'ticket',
      one: true,
      load: () => import('./views/ticket/TicketView.svelte'),
      props: (_, number) => ({ number }),
    },
    { at: 'worth', load: () => import('./views/worth/WorthView.svelte') },
    { at: 'ways', load: () => import('./views/ways/WaysView.svelte'), nav: 'Ways' },
    { at: 'true-size', load: () => import('./views/true-size/TrueSizeView.svelte') },
  ] as Route[]
  const NOT_THERE: Mistake[] = [
    {
      field: '',
      message: 'This part of the page does not come.',
      hint: 'Load the page again: nothing typed is lost.',
    },
  ]
  /** What begins anew at another address: a new one is no kept one. */
  const SHEETS = WORKS.map((one) => one.at)
  const LINKS = ROUTES.filter((one) => one.nav)
  const at = $derived(router.parts[0] ?? '')
  const number = $derived(Number(router.parts[1] ?? NaN))
  const route = $derived(
    ROUTES.find((one) => one.at === at && (one.one ?? false) === Number.isInteger(number)),
  )
  let stuck = $state.raw<Mistake[]>([])
  const here = (link: Route) =>
    link.at === ''
      ? at === '' || at === 'job'
      : link.at === 'drawer'
        ? ['drawer', 'mill', 'melt'].includes(at)
        : link.at === 'logbook'
          ? ['logbook', 'why'].includes(at)
          : link.at === at && !(SHEETS.includes(at) && route?.one)

  onMount(() => {
    void session.start()
    return keys.add([
      { key: '?', says: 'these keys', run: () => (keys.sheet = !keys.sheet) },
      { key: 'b', says: 'the bench', run: () => router.go('/') },
      ...WORKS.map(({ shortcut, says, at }) => ({
        key: shortcut,
        says,
        run: () => router.go(`/${at}`),
      })),
      { key: 'd', says: 'dim, and back', run: () => theme.toggle() },
      { key: 'g', says: 'the gauges', run: () => router.go('/gauges') },
      { key: 'w', says: 'the drawer', run: () => router.go('/drawer') },
      { key: 'l', says: 'the logbook', run: () => router.go('/logbook') },
      { key: 'u', says: 'the customers', run: () => router.go('/customers') },
      { key: 's', says: 'find a job', run: () => session.wasIn && (finding.open = true) },
      { key: 'c', says: 'the simulated caliper', run: () => (caliper.panel = !caliper.panel) },
    ])
  })
  $effect(() => {
    const name = at ? at.slice(0, 1).toUpperCase() + at.slice(1).replace('-', ' ') : 'Bench'
    const ready = pulse.ended.length ? `(${pulse.ended.length} ready) ` : ''
    document.title = `${ready}${name} · Plain Shank`
  })
  $effect(() => {
    if (session.who?.signed_in) pulse.start()
    else pulse.stop()
  })
</script>

<a href="#main" class="btn btn-primary sr-only focus:not-sr-only focus:absolute focus:z-50"
  >Skip to the work</a
>
<header class="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 pt-4 sm:px-9 lg:gap-x-8">
  <p class="text-body font-semibold">Plain Shank</p>
  {#if session.wasIn}
    <nav
      aria-label="Main"
      class="order-last flex w-full flex-wrap gap-x-3.5 gap-y-1 text-small min-[480px]:justify-between min-[480px]:text-note md:order-none md:w-auto md:justify-start md:gap-x-2.5 md:text-small lg:gap-x-6 lg:text-body"
    >
      {#each LINKS as link (link.at)}
        <a
          href={`/${link.at}`}
          aria-current={here(link) ? 'page' : undefined}
          class={[
            'border-b-[3px] pb-1 font-medium whitespace-nowrap md:pb-2',
            here(link) ? 'border-blue text-blue' : 'text-soft hover:text-ink border-transparent',
          ]}>{link.nav}</a
        >
      {/each}
    </nav>
  {/if}
  <div class="text-soft ml-auto flex gap-4 font-medium lg:gap-7">
    {#if session.wasIn}<span class="hidden lg:inline">{session.who?.workshop}</span>{/if}
    <button type="button" class="hover:text-ink cursor-pointer" onclick={() => theme.toggle()}>
      {theme.dim ? 'light' : 'dim'}
    </button>
    <button
      type="button"
      class="hover:text-ink cursor-pointer"
      aria-label="keys ?"
      onclick={() => (keys.sheet = true)}
    >
      <span class="hidden lg:inline">keys&nbsp;</span>?
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

<KeptBar />
{#if session.wasIn}
  <OutboxBar />
  <Ended />
{/if}
<main id="main" class="px-4 pt-6 pb-12 sm:px-9">
  <Mistakes mistakes={stuck} />
  {#if session.away.length}
    <Mistakes mistakes={session.away} />
    <button type="button" class="btn btn-primary mt-4" onclick={() => session.start()}
      >Try again</button
    >
  {/if}
  {#if session.wasIn && session.catalogue && at === 'welcome'}
    <h1 class="text-title">You are in.</h1>
    <p class="mt-3"><a class="quiet" href="/">To the bench</a></p>
  {:else if session.wasIn && session.catalogue}
    {#if route}
      {#key route.one || SHEETS.includes(at) ? router.path : at}
        {@const props = route.props?.(session.catalogue, number) ?? {}}
        {#if route.view}
          {@const View = route.view}
          <View {...props} />
        {:else}
          {#await route.load?.() then found}
            {#if found}<found.default {...props} />{/if}
          {:catch}
            <Mistakes mistakes={NOT_THERE} />
          {/await}
        {/if}
      {/key}
    {:else}
      <h1 class="text-title">There is no such place.</h1>
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
