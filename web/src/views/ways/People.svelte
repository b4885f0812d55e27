<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, owner, type Mistake, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Erase from '$lib/parts/Erase.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'
  import { whenWords } from '$lib/text'
  import Link from './Link.svelte'

  type People = Schemas['PeopleOut']
  /** Who is in the workshop, what each may do, and the ways in and out. */
  let found = $state.raw<People | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  let at = $state(0)
  let link = $state('')
  let whose = $state('')
  let username = $state('')
  let name = $state('')
  let role = $state('bench')
  let busy = $state(false)
  const TICK = '●'

  onMount(async () => took(await ask(api.GET('/api/people'))))

  type Told = Awaited<ReturnType<typeof ask<People>>>
  function took(answer: Told, of = 0): boolean {
    mistakes = answer?.problem?.errors ?? []
    at = of
    if (answer?.data) found = answer.data
    return !!answer?.data
  }
  async function doing(of: number, call: () => Promise<Told>, to = '') {
    if (busy) return
    busy = true
    link = ''
    const answer = await call()
    busy = false
    if (took(answer, of) && answer?.data?.link) [link, whose] = [here(answer.data.link), to]
    // one's own part has changed: the screen follows at once
    if (of === owner.person) void session.start()
  }
  /** The link as it works from here: the server may know itself by another name. */
  const here = (link: string) => `${location.origin}${new URL(link).pathname}${new URL(link).hash}`
  const params = (person_id: number) => ({ params: { path: { person_id } } })
  async function invite(event: SubmitEvent) {
    event.preventDefault()
    const to = name.trim() || username.trim()
    await doing(0, () => ask(api.POST('/api/people', { body: { username, name, role } })), to)
    if (link) username = name = ''
  }
  async function erase(id: number): Promise<Mistake[]> {
    const answer = await ask(api.DELETE('/api/people/{person_id}', params(id)))
    if (answer?.data) found = answer.data
    return answer?.problem?.errors ?? []
  }
  const seen = (one: Schemas['Member']) =>
    !one.active
      ? 'is not here any more'
      : !one.entered
        ? 'has not come in yet'
        : one.seen_at
          ? `here ${whenWords(one.seen_at, clock.now)}`
          : ''
</script>

<section aria-label="People" data-testid="people">
  <h2 class="text-lead">Who works here</h2>
  {#if found}
    <ul class="mt-2">
      {#each found.people as one (one.id)}
        <li class="border-hairline border-b py-2" class:text-soft={!one.active}>
          <p class="flex flex-wrap items-baseline gap-x-5 gap-y-1">
            <span class="text-lead font-medium">{one.name}</span>
            <span class="text-soft text-body">signs in as {one.username}</span>
            {#if one.active}
              <Choose
                bind:value={
                  () => one.role,
                  (role) =>
                    void doing(one.id, () =>
                      ask(
                        api.PUT('/api/people/{person_id}/role', {
                          ...params(one.id),
                          body: { role },
                        }),
                      ),
                    )
                }
                label={`What ${one.name} may do`}
                field="role"
                choices={found.roles}
              />
            {/if}
            <span class="text-soft text-note"
              >{seen(one)}{one.factor ? ', with a second factor' : ''}</span
            >
          </p>
          <p class="mt-1 flex flex-wrap gap-x-5 gap-y-1 text-note">
            {#if one.active}
              <button
                type="button"
                class="quiet"
                onclick={() =>
                  void doing(
                    one.id,
                    () => ask(api.POST('/api/people/{person_id}/link', params(one.id))),
                    one.name,
                  )}>a new link</button
              >
              {#if one.seen_at && one.id !== owner.person}
                <button
                  type="button"
                  class="quiet"
                  onclick={() =>
                    void doing(one.id, () =>
                      ask(api.DELETE('/api/people/{person_id}/sessions', params(one.id))),
                    )}>sign out everywhere</button
                >
              {/if}
            {/if}
            {#if one.id !== owner.person}
              <button
                type="button"
                class="quiet"
                onclick={() =>
                  void doing(one.id, () =>
                    ask(
                      api.PUT('/api/people/{person_id}/active', {
                        ...params(one.id),
                        body: { active: !one.active },
                      }),
                    ),
                  )}>{one.active ? 'let go' : 'take back'}</button
              >
            {/if}
          </p>
          {#if !one.active && session.may('erase') && !one.name.startsWith('erased-')}
            <p class="mt-1"><Erase who={one.name} run={() => erase(one.id)} /></p>
          {/if}
          {#if at === one.id}<Mistakes {mistakes} />{/if}
          {#if at === one.id && link}<Link {link} {whose} />{/if}
        </li>
      {/each}
    </ul>
    <form class="mt-5" aria-label="Invite somebody" onsubmit={invite}>
      <p class="text-lead leading-[1.9]">
        Invite <Word
          bind:value={name}
          label="Name"
          field="name"
          placeholder="first and last"
          {mistakes}
        />, who signs in as <Word
          bind:value={username}
          label="Name to sign in with"
          field="username"
          placeholder="one word"
          {mistakes}
        /> and is <Choose bind:value={role} label="Role" field="role" choices={found.roles} />
        <button class="btn btn-primary ml-2" disabled={busy || !username.trim()}>Invite</button>
      </p>
      <p class="text-soft text-note">
        {found.roles.find((one) => one.key === role)?.title}: {found.says[role]}
      </p>
      {#if at === 0}<Mistakes {mistakes} />{/if}
      {#if at === 0 && link}<Link {link} {whose} />{/if}
    </form>
    <table class="mt-6 text-body" data-testid="acts">
      <caption class="sr-only">Who may do what</caption>
      <thead class="text-soft text-small">
        <tr>
          <th scope="col" class="pr-3 text-left font-normal sm:pr-6">may</th>
          {#each found.roles as one (one.key)}<th
              scope="col"
              class="px-2 font-normal whitespace-nowrap sm:px-4">{one.title}</th
            >{/each}
        </tr>
      </thead>
      <tbody>
        {#each found.acts as act (act.key)}
          <tr class="border-hairline border-t">
            <th scope="row" class="py-1 pr-3 text-left font-normal sm:pr-6">{act.title}</th>
            {#each found.roles as one (one.key)}
              <td class="px-2 text-center whitespace-nowrap sm:px-4">
                {#if act.roles.includes(one.key)}<span aria-label="yes">{TICK}</span
                  >{:else if act.let.includes(one.key)}<a class="quiet text-note" href="#prices"
                    >if let</a
                  >{:else}<span class="sr-only">no</span>{/if}
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  {:else}
    <Mistakes {mistakes} />
  {/if}
</section>
