<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Schemas } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import { Draft } from '$lib/draft.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { dueWords } from '$lib/text'

  /** A finished ring that is looked at once more: when, why, and what shows. */
  interface Props {
    one: Schemas['LookAgain']
    ondone: () => Promise<void>
  }
  let { one, ondone }: Props = $props()
  let found = $state('')
  const draft = untrack(
    () =>
      new Draft(
        `look/${one.id}`,
        () => ({ found }),
        (typed) => ({ found } = typed),
      ),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())

  async function looked() {
    const answer = await outbox.send({
      method: 'POST',
      path: `/api/jobs/${one.id}/looked`,
      body: { found },
      says: `looked at again: ${one.name}`,
      where: '/',
      slot: draft.slot,
    })
    if (!answer.problem) draft.done()
    await ondone()
  }
</script>

<li class="flex flex-wrap items-baseline gap-x-4 gap-y-1 py-1">
  <span class={one.due ? 'text-flame-text font-medium' : 'text-soft'}
    >{one.due ? 'Look again now' : `Look again ${dueWords(one.on, clock.now)}`}</span
  >
  <a class="quiet" href={`/job/${one.id}`}><Say text={one.name} /></a>
  <span class="text-soft text-small">{one.why}</span>
  {#if one.due}
    <Word
      bind:value={found}
      label={`What shows on ${one.name}`}
      field=""
      placeholder="nothing shows"
      most={200}
    />
    <button type="button" class="quiet" onclick={() => void looked()}
      >looked at<span class="sr-only">: {one.name}</span></button
    >
  {/if}
</li>
