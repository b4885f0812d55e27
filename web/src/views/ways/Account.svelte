<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { whenWords } from '$lib/text'

  /** Where one is signed in, and one's second factor. */
  let found = $state.raw<Schemas['AccountOut'] | null>(null)
  let begun = $state.raw<Schemas['NewFactor'] | null>(null)
  let codes = $state.raw<string[]>([])
  let password = $state('')
  let code = $state('')
  let mistakes = $state.raw<Mistake[]>([])

  onMount(() => void read())
  async function read() {
    took(await ask(api.GET('/api/account')))
  }
  type Told = { data: Schemas['AccountOut'] | null; problem: { errors: Mistake[] } | null }
  function took(answer: Told | undefined) {
    mistakes = answer?.problem?.errors ?? []
    if (answer?.data) found = answer.data
  }
  async function begin(event: SubmitEvent) {
    event.preventDefault()
    codes = []
    const answer = await ask(api.POST('/api/account/factor', { body: { password } }))
    mistakes = answer?.problem?.errors ?? []
    if (!answer?.data) return
    begun = answer.data
    password = ''
  }
  async function confirm(event: SubmitEvent) {
    event.preventDefault()
    const answer = await ask(api.PUT('/api/account/factor', { body: { code } }))
    mistakes = answer?.problem?.errors ?? []
    code = ''
    if (!answer?.data) return
    const { codes: made } = answer.data
    begun = null
    await read()
    codes = made
  }
  async function anew() {
    const answer = await ask(api.POST('/api/account/factor/codes', { body: { password } }))
    mistakes = answer?.problem?.errors ?? []
    if (!answer?.data) return
    const { codes: made } = answer.data
    password = ''
    await read()
    codes = made
  }
  async function off() {
    const answer = await ask(api.POST('/api/account/factor/off', { body: { password } }))
    took(answer)
    if (answer?.data) [password, codes] = ['', []]
  }
</script>

{#if found}
  <section class="mt-9 max-w-[58rem]" aria-label="A second factor" data-testid="factor">
    <h2 class="text-lead font-medium">A second factor</h2>
    {#if begun}
      <div class="mt-2 flex flex-wrap items-start gap-x-8 gap-y-3">
        <img src={begun.picture} alt="The secret, as a code to be read by an app" class="w-48" />
        <form class="max-w-[34rem]" aria-label="First code" onsubmit={confirm}>
          <p class="text-body">
            Let an app for one-time codes read this picture, or type into it
            <span class="font-medium" data-testid="secret">{begun.secret}</span>. It is shown this
            once.
          </p>
          <p class="mt-3 text-lead">
            It shows <Word
              bind:value={code}
              label="Code"
              field="code"
              placeholder="six figures"
              {mistakes}
            />
            <button class="btn btn-primary ml-2" disabled={!code.trim()}>That is it</button>
          </p>
        </form>
      </div>
    {:else}
      <p class="mt-1 text-body">
        {found.factor.on
          ? `Your password alone lets nobody in: a code of your app follows it. ${found.factor.codes_left} recovery codes are left.`
          : 'A code of an app on your telephone, after the password: whoever learns the password alone stays outside.'}
      </p>
      <form class="mt-2 text-lead" aria-label="Second factor" onsubmit={begin}>
        My password is <Word
          bind:value={password}
          label="My password"
          field="password"
          type="password"
          placeholder="now"
          {mistakes}
        />
        <button class="btn btn-primary ml-2" disabled={!password}
          >{found.factor.on ? 'Another app' : 'Set it up'}</button
        >
        {#if found.factor.on}
          <button
            type="button"
            class="quiet ml-4 text-body"
            disabled={!password}
            onclick={() => void anew()}>new recovery codes</button
          >
          <button
            type="button"
            class="quiet ml-4 text-body"
            disabled={!password}
            onclick={() => void off()}>take it away</button
          >
        {/if}
      </form>
    {/if}
    <Mistakes {mistakes} />
    {#if codes.length}
      <p class="mt-4 text-body">
        Write these down now: each lets you in once, without the app. They are not shown again.
      </p>
      <ol class="codes mt-2" data-testid="codes">
        {#each codes as one (one)}<li class="figure">{one}</li>{/each}
      </ol>
    {/if}
  </section>

  <section class="mt-9 max-w-[58rem]" aria-label="Where I am signed in" data-testid="sessions">
    <h2 class="text-lead font-medium">Where I am signed in</h2>
    <ul class="mt-1">
      {#each found.sessions as one (one.id)}
        <li class="border-hairline flex flex-wrap items-baseline gap-x-5 border-b py-1.5 text-body">
          <span>{one.agent}, {one.address}</span>
          <span class="text-soft text-note"
            >signed in {whenWords(one.since, clock.now)}{one.here
              ? ', here'
              : `, used ${whenWords(one.seen_at, clock.now)}`}</span
          >
          {#if !one.here}
            <button
              type="button"
              class="quiet text-note"
              onclick={async () =>
                took(
                  await ask(
                    api.DELETE('/api/account/sessions/{session_id}', {
                      params: { path: { session_id: one.id } },
                    }),
                  ),
                )}>sign out there</button
            >
          {/if}
        </li>
      {/each}
    </ul>
    {#if found.sessions.length > 1}
      <button
        type="button"
        class="quiet mt-2 text-body"
        onclick={async () => took(await ask(api.DELETE('/api/account/sessions')))}
        >sign out everywhere but here</button
      >
    {/if}
  </section>
{/if}

<style>
  .codes {
    columns: 2;
    max-width: 22rem;
    list-style: decimal inside;
    font-size: var(--text-lead);
  }
</style>
