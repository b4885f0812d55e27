<script lang="ts">
  import { api, ask, type Mistake } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import NewPassword, { notTwice } from '$lib/parts/NewPassword.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'

  let now = $state('')
  let next = $state('')
  let again = $state('')
  let mistakes = $state.raw<Mistake[]>([])
  let kept = $state(false)

  async function set(event: SubmitEvent) {
    event.preventDefault()
    kept = false
    mistakes = notTwice(next, again)
    if (mistakes.length) return
    const answer = await ask(api.PUT('/api/session/password', { body: { now, new: next } }))
    mistakes = answer?.problem?.errors ?? []
    if (!answer?.data) return
    session.who = answer.data
    now = next = again = ''
    kept = true
  }
</script>

<form class="mt-9 max-w-[58rem]" aria-label="My password" onsubmit={set}>
  <h2 class="text-lead font-medium">My password</h2>
  <p class="mt-1 text-lead leading-[1.9]">
    It is <Word
      bind:value={now}
      label="Password now"
      field="now"
      type="password"
      placeholder="now"
      {mistakes}
    />
    and shall be <NewPassword bind:password={next} bind:again field="new" {mistakes} />.
  </p>
  <button class="btn btn-primary mt-2" disabled={!now || !next || !again}>Change it</button>
  {#if kept}<span class="text-blue ml-4">Changed; other devices are signed out.</span>{/if}
  <Mistakes {mistakes} />
</form>
