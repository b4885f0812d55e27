<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { session } from '$lib/session.svelte'
  import Password from './Password.svelte'
  import WaysForm from './WaysForm.svelte'

  let all = $state.raw<Schemas['AllPreferences'] | null>(null)
  /** Which level was kept last: in other units both forms begin anew, and that one still says so. */
  let saved = $state('')
  let mistakes = $state.raw<Mistake[]>([])
  onMount(() => void read())

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

<h1 class="text-[30px] leading-tight">How we do things</h1>
<p class="text-soft mt-1 max-w-[46rem]">
  What is left open follows the usual; a person follows the shop where nothing of their own is said.
</p>
<Mistakes {mistakes} />
{#if all}
  {#key all.now.units}
    <WaysForm
      title="The workshop"
      form={all.form}
      stands={all.workshop}
      version={all.workshop_version}
      usual={all.usual}
      above="as usual"
      level="workshop"
      kept={saved === 'workshop'}
      onset={(read) => set(read, 'workshop')}
    />
    <WaysForm
      title={session.who?.name ?? 'I'}
      form={all.form}
      stands={all.mine}
      version={all.mine_version}
      usual={all.shop}
      above="the shop's"
      level="mine"
      kept={saved === 'mine'}
      onset={(read) => set(read, 'mine')}
    />
  {/key}
  <Password />
{/if}
