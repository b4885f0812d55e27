<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { keys } from '$lib/keys.svelte'
  import { dayText } from '$lib/day'
  import { toField } from '$lib/text'
  import Mistakes from '$lib/parts/Mistakes.svelte'

  /** At the counter: when can it be ready, and how sure; one key puts it into the order's "by". */
  interface Props {
    work: string
    order: object
    jobId: number | null
    onpromise: (by: { day: string; hour: string }) => void
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
    if (!answer?.sure_at || old) return void find()
    const [day = '', hour = ''] = toField(answer.sure_at).split('T')
    onpromise({ day: dayText(day), hour })
  }
  onMount(() =>
    keys.add([{ key: 'y', says: 'when it can be ready; again: promise that', run: promise }]),
  )
</script>

<div
  class="mt-3 flex flex-wrap items-baseline gap-x-4 gap-y-1 text-body"
  role="status"
  data-testid="ready"
>
  <button type="button" class="quiet" disabled={asking} onclick={() => void find()}
    >{asking ? 'Looking over the bench' : 'When can it be ready?'}</button
  >
  {#if answer && !old}
    <span class="font-medium">{answer.says}</span>
    {#if answer.sure_at}
      <button type="button" class="quiet" onclick={promise}>promise it for then</button>
    {/if}
    <span class="text-soft text-small"
      >{answer.whence} With {answer.jobs === 1 ? 'one other job' : `${answer.jobs} other jobs`} on the
      bench.</span
    >
  {/if}
</div>
<Mistakes {mistakes} />
