<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Catalogue } from '$lib/api/client'
  import { Editing } from '$lib/editing.svelte'
  import { gauges, type Gauge } from '$lib/gauges.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'

  interface Props {
    gauge: Gauge
    catalogue: Catalogue
    onsaved: (gauge: Gauge) => void
  }
  let { gauge, catalogue, onsaved }: Props = $props()
  const LABELS = { name: 'name', kind: 'kind', place: 'where it lives', put_away: 'put away' }
  const USE = [
    { key: '', title: 'in use' },
    { key: 'yes', title: 'put away' },
  ]
  const kept = (one: Gauge) => ({
    name: one.name,
    kind: one.kind,
    place: one.place,
    put_away: one.put_away ? 'yes' : '',
  })
  const editing = untrack(
    () =>
      new Editing({
        sheet: `gauges/${gauge.id}/what`,
        labels: LABELS,
        stands: kept(gauge),
        version: gauge.version,
        theirs: (told) => ({
          name: String(told.name),
          kind: String(told.kind),
          place: String(told.place),
          put_away: told.put_away ? 'yes' : '',
        }),
      }),
  )
  onMount(() => void editing.draft.begin())
  $effect(() => editing.draft.keep())
  $effect(() => {
    const [now, version] = [kept(gauge), gauge.version]
    untrack(() => editing.stand(now, version))
  })

  $effect(() =>
    outbox.listen((item, data) => {
      const mine = editing.draft.owns(item.slot)
      if (mine) settled(data as Gauge)
      return mine
    }),
  )

  async function save(event?: SubmitEvent) {
    event?.preventDefault()
    const said = editing.send()
    const answer = await outbox.send<Gauge>({
      method: 'PUT',
      path: `/api/gauges/${gauge.id}`,
      body: {
        ...said,
        put_away: said.put_away === 'yes',
        scale: gauge.scale,
        version: editing.version,
      },
      says: `what was said of the gauge ${said.name}`,
      where: `/gauges/${gauge.id}`,
      slot: editing.draft.slot,
    })
    if (answer.problem) return editing.refused(answer.problem)
    settled(answer.data)
  }
  function settled(saved: Gauge) {
    editing.saved(kept(saved), saved.version)
    onsaved(saved)
    void gauges.read()
  }
</script>

<form class="text-soft mt-1 text-body leading-[1.8]" aria-label="What it is" onsubmit={save}>
  A <Choose
    bind:value={editing.said.kind}
    label="Kind"
    field="kind"
    choices={catalogue.gauge_kinds}
    mistakes={editing.mistakes}
  />
  called <Word
    bind:value={editing.said.name}
    label="Its name"
    field="name"
    mistakes={editing.mistakes}
  />,
  <Word
    bind:value={editing.said.place}
    label="Where it lives"
    field="place"
    placeholder="where it lives"
    mistakes={editing.mistakes}
  />, <Choose
    bind:value={editing.said.put_away}
    label="In use"
    field="put_away"
    choices={USE}
    mistakes={editing.mistakes}
  />.
  {#if editing.touched && !editing.rows && session.may('calibrate')}<button class="quiet ml-2"
      >save</button
    >{/if}
  <DraftSays draft={editing.draft} />
  <Mistakes mistakes={editing.mistakes} />
</form>
<Theirs
  {editing}
  shown={(field, value) =>
    (field === 'kind' ? catalogue.gauge_kinds : field === 'put_away' ? USE : []).find(
      (one) => one.key === value,
    )?.title ?? value}
  onsave={save}
/>
