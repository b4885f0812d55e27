<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Job } from '$lib/api/client'
  import { dayText, NO_DAY, readDay } from '$lib/day'
  import { Editing } from '$lib/editing.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import DayWord from '$lib/parts/DayWord.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import { session } from '$lib/session.svelte'
  import type { Card } from './card.svelte'

  let { card, job }: { card: Card; job: Job } = $props()
  const LABELS = { place: 'where it is', note: 'note', until: 'until' }
  const fields = (place: string, note: string, until: unknown) => ({
    place,
    note,
    until: typeof until === 'string' ? dayText(until) : '',
  })
  const stands = () => fields(job.place, job.place_note, job.place_until)
  const editing = untrack(
    () =>
      new Editing({
        sheet: `job/${job.id}/place`,
        labels: LABELS,
        stands: stands(),
        version: job.place_version,
        theirs: (told) => fields(String(told.place), String(told.note), told.until),
      }),
  )
  const places = $derived([
    { key: '', title: 'on the bench' },
    ...(session.catalogue?.places ?? []),
  ])
  const title = (key: string) => places.find((one) => one.key === key)?.title ?? key
  onMount(() => void editing.draft.begin())
  $effect(() => editing.draft.keep())
  $effect(() =>
    outbox.listen((item, data) => {
      if (!editing.draft.owns(item.slot)) return false
      const { place, place_note, place_until, place_version } = data as Job
      editing.saved(fields(place, place_note, place_until), place_version)
      return true
    }),
  )
  // somebody else moved it while nothing was typed here: theirs is shown
  $effect(() => {
    const [now, version] = [stands(), job.place_version]
    untrack(() => editing.stand(now, version))
  })

  async function put(event?: SubmitEvent) {
    event?.preventDefault()
    const said = editing.send()
    const until = said.until.trim() ? readDay(said.until) : null
    if (said.until.trim() && !until) {
      editing.mistakes = [{ field: 'until', ...NO_DAY }]
      return
    }
    const answer = await card.send({
      method: 'PUT',
      path: `/api/jobs/${job.id}/place`,
      body: {
        place: said.place,
        note: said.note,
        until,
        version: editing.version,
      },
      says: `${job.customer_name || job.title} ${title(said.place)}`,
      slot: editing.draft.slot,
    })
    card.mistakes = []
    if (answer.problem) editing.refused(answer.problem)
    else editing.saved(stands(), answer.data.place_version)
  }
</script>

<form class="mt-1 text-body leading-[1.8]" aria-label="Where it is" onsubmit={put}>
  It is <Choose
    bind:value={editing.said.place}
    label="Where it is"
    field="place"
    choices={places}
    mistakes={editing.mistakes}
  />{#if editing.said.place || editing.said.note},
    <Word
      bind:value={editing.said.note}
      label="Note on the place"
      field="note"
      placeholder="a note"
      mistakes={editing.mistakes}
    />
    until <DayWord
      bind:value={editing.said.until}
      label="Until"
      field="until"
      mistakes={editing.mistakes}
    />{/if}{#if editing.touched && !editing.rows}
    <button class="btn btn-primary ml-2 text-note leading-tight">Say so</button>
  {:else if job.place}<span class="text-soft">.</span>{/if}
  <DraftSays draft={editing.draft} />
  <Mistakes mistakes={editing.mistakes} />
</form>
<Theirs
  {editing}
  shown={(field, value) => (field === 'place' ? title(value) : value)}
  onsave={put}
/>
