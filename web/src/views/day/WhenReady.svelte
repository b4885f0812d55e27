<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { keys } from '$lib/keys.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'

  /** At the counter: when can it be ready, and how sure; one key puts it into the order's "by". */
  interface Props {
    work: string
    order: object
    jobId: number | null
    onpromise: (at: Date) => void
  }
  let { work, order, jobId, onpromise }: Props = $props()
  let answer = $state.raw<Schemas['CounterAnswer'] | null>(null)
  let mistakes = $state.raw<Mistake[]>([])
  let asking = $state(false)
  let asked = ''
  const said = $derived(JSON.stringify(order))
  const old = $derived(answer !== null && asked !== said)

  async function find() {
    if (asking) return
    asking = true
    asked = said
    const body = { work, order: JSON.parse(said) as Record<string, never>, job_id: jobId }
    const found = await ask(api.POST('/api/day/ready', { body }))
    asking = false
    mistakes = found?.problem?.errors ?? []
    answer = found?.data ?? null
  }
  function promise() {
    if (answer?.sure_at && !old) onpromise(new Date(answer.sure_at))
    else void find()
  }
  onMount(() =>
    keys.add([{ key: 'y', says: 'when it can be ready; again: promise that', run: promise }]),
  )
</script>

<p class="mt-2 text-body">
  <button type="button" class="quiet" disabled={asking} onclick={() => void find()}
    >{asking ? 'looking over the bench' : 'When can it be ready?'}</button
  >
</p>
<div role="status" data-testid="ready">
  {#if answer && !old}
    <p class="font-medium">{answer.says}</p>
    <p class="text-soft text-small">
      {answer.whence} With {answer.jobs === 1 ? 'one other job' : `${answer.jobs} other jobs`} on the
      bench.
    </p>
    {#if answer.sure_at}
      <button type="button" class="quiet" onclick={promise}>promise it for then</button>
    {/if}
  {/if}
</div>
<Mistakes {mistakes} />
