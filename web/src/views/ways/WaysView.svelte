<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { router } from '$lib/router.svelte'
  import { session } from '$lib/session.svelte'
  import Account from './Account.svelte'
  import ThisDevice from './ThisDevice.svelte'
  import CalendarAddress from './CalendarAddress.svelte'
  import Keeping from './Keeping.svelte'
  import LearntMinutes from './LearntMinutes.svelte'
  import Password from './Password.svelte'
  import People from './People.svelte'
  import WaysForm from './WaysForm.svelte'

  let all = $state.raw<Schemas['AllPreferences'] | null>(null)
  /** Which level was kept last: in other units both forms begin anew, and that one still says so. */
  let saved = $state('')
  let mistakes = $state.raw<Mistake[]>([])
  const OWN = 'mine'
  const PEOPLE = 'people'
  const KEEPING = 'keeping'
  let mark = $state(router.mark)
  onMount(() => {
    void read()
    const turned = () => (mark = router.mark)
    window.addEventListener('hashchange', turned)
    return () => window.removeEventListener('hashchange', turned)
  })
  const own = $derived(mark === OWN || mark.startsWith(`${OWN}-`))
  const people = $derived(mark === PEOPLE && session.may('invite'))
  const keeping = $derived(mark === KEEPING && session.may('back-up'))
  const apart = $derived(people || keeping)
  const key = $derived(own ? mark.slice(OWN.length + 1) : mark)
  const myForm = $derived((all?.form ?? []).filter((one) => !one.shop_only))
  /** The parts in which a person can differ: what is asked of the workshop alone is none of them. */
  const mySections = $derived(
    (all?.sections ?? []).filter((part) =>
      all?.form.some((one) => part.groups.includes(one.group) && !one.shop_only),
    ),
  )
  const section = $derived(
    (own ? mySections : all?.sections)?.find((one) => one.key === key) ?? all?.sections[0],
  )
  const at = (key: string, mine = own) => (mine ? `#${OWN}-${key}` : `#${key}`)

  async function read() {
    const answer = await ask(api.GET('/api/ways'))
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) await set(answer.data)
  }
  /** What is in force now: the sheets begin with it. */
  async function set(read: Schemas['AllPreferences'], level = '') {
    await session.follow(read.now)
    saved = level
    all = read
    mistakes = []
  }
</script>

<h1 class="text-title leading-tight">How we do things</h1>
<Mistakes {mistakes} />
{#if all && section}
  {@const name = session.who?.name ?? 'I'}
  <div class="ways">
    <nav aria-label="Ways">
      {#each all.sections as one (one.key)}
        <a
          href={at(one.key, false)}
          aria-current={!own && !apart && one === section ? 'true' : undefined}>{one.title}</a
        >
      {/each}
      {#if session.may('invite')}
        <a href={`#${PEOPLE}`} class="own" aria-current={people ? 'true' : undefined}>people</a>
      {/if}
      {#if session.may('back-up')}
        <a href={`#${KEEPING}`} aria-current={keeping ? 'true' : undefined}>safe keeping</a>
      {/if}
      <a href={`#${OWN}`} class="own" aria-current={own ? 'true' : undefined}>{name}</a>
      {#if own}
        {#each mySections as one (one.key)}
          <a
            href={at(one.key, true)}
            class="under"
            aria-label={`${name}: ${one.title}`}
            aria-current={one === section ? 'true' : undefined}>{one.title}</a
          >
        {/each}
      {/if}
    </nav>
    {#if people}<People />{:else if keeping}<Keeping />{/if}
    {#key all.now.units}
      <div class={own || apart ? 'hidden' : 'min-w-0'}>
        <WaysForm
          title="The workshop"
          form={all.form}
          {section}
          sections={all.sections}
          at={(key) => at(key, false)}
          stands={all.workshop}
          version={all.workshop_version}
          usual={all.usual}
          says={all.says}
          above="as usual"
          level="workshop"
          kept={saved === 'workshop'}
          onset={(read) => set(read, 'workshop')}
        />
      </div>
      <div class={own ? 'min-w-0' : 'hidden'}>
        <WaysForm
          title={name}
          form={myForm}
          {section}
          sections={mySections}
          at={(key) => at(key, true)}
          stands={all.mine}
          version={all.mine_version}
          usual={all.shop}
          says={all.says}
          above="the shop's"
          level="mine"
          kept={saved === 'mine'}
          onset={(read) => set(read, 'mine')}
        />
        {#if section === all.sections[0]}<Password /><Account /><ThisDevice />{/if}
      </div>
      {#if section.key === 'day' && !apart}<div class="beside"><CalendarAddress /></div>{/if}
      {#if section.key === 'minutes' && !apart}<div class="beside"><LearntMinutes /></div>{/if}
    {/key}
  </div>
{/if}

<style>
  .ways {
    display: grid;
    gap: 1.2rem 2rem;
    margin-top: 1.2rem;
    grid-template-columns: minmax(0, 1fr);
  }
  nav {
    display: flex;
    flex-wrap: wrap;
    gap: 0.2rem 1rem;
    align-self: start;
    font-size: var(--text-body);
  }
  nav a {
    color: var(--soft);
    padding: 0.1rem 0;
    border-bottom: 2px solid transparent;
  }
  nav a:hover {
    color: var(--color-base-content);
  }
  nav a[aria-current] {
    color: var(--color-primary);
    font-weight: 500;
    border-color: var(--color-primary);
  }
  @media (min-width: 900px) {
    .ways {
      grid-template-columns: 200px minmax(0, 1fr);
      max-width: 78rem;
    }
    .beside {
      grid-column: 2;
      min-width: 0;
    }
    nav {
      flex-direction: column;
      gap: 0.35rem;
    }
    nav a {
      border-bottom: 0;
      border-left: 3px solid transparent;
      padding-left: 0.7rem;
    }
    nav .own {
      margin-top: 0.7rem;
    }
    nav .under {
      padding-left: 1.7rem;
      font-size: var(--text-note);
    }
  }
</style>
