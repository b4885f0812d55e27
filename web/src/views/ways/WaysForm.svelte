<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Schemas } from '$lib/api/client'
  import { Editing } from '$lib/editing.svelte'
  import { shop } from '$lib/length.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'

  type Texts = Record<string, string>
  interface Props {
    title: string
    form: Schemas['PreferenceField'][]
    stands: Texts
    /** What holds where this level says nothing, and whose that is. */
    usual: Texts
    above: string
    level: 'workshop' | 'mine'
    version: number
    kept: boolean
    onset: (all: Schemas['AllPreferences']) => Promise<void>
  }
  let { title, form, stands, usual, above, level, version: read, kept, onset }: Props = $props()

  const groups = $derived([...new Set(form.map((one) => one.group))])
  /** What is left open follows the level above, and says what that is. */
  const open = ({ field, choices }: Schemas['PreferenceField']) => {
    const now = usual[field] ?? ''
    const title = choices.find((one) => one.key === now)?.title ?? now
    return [{ key: '', title: `${title}, ${above}` }, ...choices]
  }
  const texts = (told: Record<string, unknown>): Texts =>
    Object.fromEntries(form.map(({ field }) => [field, String(told[field] ?? '')]))
  const clings = (text: string) => /^[,.;:]/.test(text)
  const GAP = ' '

  // what was typed in mm is no draft of a form in inches
  const unit = untrack(() => shop.units)
  const editing = untrack(
    () =>
      new Editing<Texts>({
        sheet: unit === 'mm' ? `ways/${level}` : `ways/${level}/${unit}`,
        labels: Object.fromEntries(form.map((one) => [one.field, one.label.toLowerCase()])),
        stands: texts(stands),
        version: read,
        theirs: texts,
      }),
  )
  editing.kept = untrack(() => kept)
  onMount(() => void editing.draft.begin())
  $effect(() => editing.draft.keep())

  $effect(() =>
    outbox.listen((item, data) => {
      const mine = editing.draft.owns(item.slot)
      if (mine) void settled(data as Schemas['AllPreferences'])
      return mine
    }),
  )

  async function set(event?: SubmitEvent) {
    event?.preventDefault()
    const answer = await outbox.send<Schemas['AllPreferences']>({
      method: 'PUT',
      path: `/api/ways/${level}`,
      body: { ...editing.send(), version: editing.version, typed_in: unit },
      says: level === 'mine' ? 'your own ways' : 'the ways of the workshop',
      where: '/ways',
      slot: editing.draft.slot,
    })
    if (answer.problem) return editing.refused(answer.problem)
    await settled(answer.data)
  }
  /** It is kept once what follows from it holds: a sheet opened now begins with it. */
  async function settled(data: Schemas['AllPreferences']) {
    const version = level === 'mine' ? data.mine_version : data.workshop_version
    await onset(data)
    editing.saved(texts(data[level]), version)
  }
</script>

<form class="mt-7 max-w-[58rem]" aria-label={title} onsubmit={set}>
  <h2 class="text-[21px] font-medium">{title}</h2>
  {#each groups as group, i (group)}
    <p class={i ? 'text-soft mt-1 text-[17px] leading-[1.8]' : 'mt-1 text-[20px] leading-[1.9]'}>
      {#each form.filter((one) => one.group === group) as one (one.field)}{clings(one.before)
          ? ''
          : GAP}{one.before}{GAP}{#if one.choices.length}<Choose
            bind:value={() => editing.said[one.field] ?? '', (v) => (editing.said[one.field] = v)}
            label={one.label}
            field={one.field}
            choices={open(one)}
            mistakes={editing.mistakes}
          />{:else}<Word
            bind:value={() => editing.said[one.field] ?? '', (v) => (editing.said[one.field] = v)}
            label={one.label}
            field={one.field}
            placeholder={usual[one.field] ?? ''}
            most={4000}
            mistakes={editing.mistakes}
          />{/if}{clings(one.after) || !one.after ? '' : GAP}{one.after}{/each}
    </p>
  {/each}
  {#if !editing.rows}<button class="act mt-2">Keep these ways</button>{/if}
  {#if editing.kept}<span class="text-blue ml-4">Kept.</span>{/if}
  <DraftSays draft={editing.draft} />
  <Mistakes mistakes={editing.mistakes} />
</form>
<Theirs {editing} onsave={set} />
