<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { router } from '$lib/router.svelte'

  /** Where the code on a slip leads: its job's card. */
  let { number }: { number: number } = $props()
  let missing = $state(false)
  let mistakes = $state.raw<Mistake[]>([])

  onMount(async () => {
    const answer = await ask(
      api.GET('/api/jobs/by-number/{number}', { params: { path: { number } } }),
    )
    if (answer?.data) router.go(`/job/${answer.data.id}`)
    missing = answer?.problem?.status === 404
    if (answer?.problem && !missing) mistakes = answer.problem.errors
  })
</script>

{#if missing}
  <h1 class="text-title">There is no job {number} in this workshop.</h1>
  <p class="mt-3"><a class="quiet" href="/">Back to the bench</a></p>
{:else}
  <h1 class="sr-only">Job {number}</h1>
{/if}
<Mistakes {mistakes} />
