<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Catalogue, type Mistake, type Schemas } from '$lib/api/client'
  import { session } from '$lib/session.svelte'
  import WaysForm from './WaysForm.svelte'

  let { catalogue }: { catalogue: Catalogue } = $props()
  let all = $state.raw<Schemas['AllWays'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  let kept = $state('')

  onMount(async () => {
    const answer = await ask(api.GET('/api/ways'))
    if (answer?.data) all = answer.data
  })

  async function set(level: 'workshop' | 'mine', body: Schemas['SomeWays']) {
    kept = ''
    const call =
      level === 'mine'
        ? api.PUT('/api/ways/mine', { body })
        : api.PUT('/api/ways/workshop', { body })
    const answer = await ask(call)
    if (answer?.problem) mistakes = answer.problem.errors
    else if (answer) {
      all = answer.data
      mistakes = []
      kept = level
      if (session.who) session.who = { ...session.who, ways: answer.data.now }
    }
  }
</script>

<h1 class="text-[30px] leading-tight">How we do things</h1>
<p class="text-soft mt-1 max-w-[46rem]">
  What is left open follows the usual; a person follows the shop where nothing of their own is said.
</p>
{#if all}
  {#key all}
    <WaysForm
      title="The workshop"
      ways={all.workshop}
      usual={all.usual}
      above="as usual"
      {catalogue}
      {mistakes}
      kept={kept === 'workshop'}
      onset={(ways) => set('workshop', ways)}
    />
    <WaysForm
      title={session.who?.name ?? 'I'}
      ways={all.mine}
      usual={all.shop}
      above="the shop's"
      {catalogue}
      {mistakes}
      kept={kept === 'mine'}
      onset={(ways) => set('mine', ways)}
    />
  {/key}
{/if}
