<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Schemas } from '$lib/api/client'
  import { Editing } from '$lib/editing.svelte'
  import { shop } from '$lib/length.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Theirs from '$lib/parts/Theirs.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { packed, told, unpacked, type Row } from './rows'
  import OwnSteps from './OwnSteps.svelte'
  import { session } from '$lib/session.svelte'
  import WaysTable from './WaysTable.svelte'

  /** What shows a list, by the table's own word. */
  const VIEWS = { table: WaysTable, steps: OwnSteps }

  type Texts = Record<string, string>
  type Level = Schemas['AllPreferences']['workshop']
  interface Props {
    title: string
    form: Schemas['PreferenceField'][]
    /** The part of it that is shown, and what the others are called. */
    section: Schemas['WaysPart']
    sections: Schemas['WaysPart'][]
    /** The address of another part. */
    at: (key: string) => string
    stands: Level
    /** What holds where this level says nothing, and whose that is. */
    usual: Level
    /** What follows from what is in force, by its way. */
    says: Record<string, string[]>
    above: string
    level: 'workshop' | 'mine'
    version: number
    kept: boolean
    onset: (all: Schemas['AllPreferences']) => Promise<void>
  }
  let {
    title,
    form,
    section,
    sections,
    at,
    stands,
    usual,
    says,
    above,
    level,
    version: read,
    kept,
    onset,
  }: Props = $props()

  /** What is left open follows the level above, and says what that is. */
  const open = ({ field, choices }: Schemas['PreferenceField']) => {
    const now = String(usual[field] ?? '')
    const title = choices.find((one) => one.key === now)?.title ?? now
    return [{ key: '', title: `${title}, ${above}` }, ...choices]
  }
  const texts = (told: Record<string, unknown>): Texts =>
    Object.fromEntries(
      form.map(({ field, table }) => [
        field,
        table ? packed(told[field]) : String((told[field] as string | undefined) ?? ''),
      ]),
    )
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

  const may = $derived(level === 'mine' || session.may('ways'))
  const sent = (said: Texts) =>
    Object.fromEntries(
      form.map(({ field, table }) => [field, table ? unpacked(said[field] ?? '') : said[field]]),
    )
  /** Where else something is wrong: a mistake in a part that is not shown is not lost. */
  const elsewhere = $derived(
    sections.filter(
      (one) =>
        one.key !== section.key &&
        editing.mistakes.some((wrong) =>
          form.some(
            ({ field, group }) => wrong.field.split('.')[0] === field && one.groups.includes(group),
          ),
        ),
    ),
  )
  const here = $derived(
    editing.mistakes.filter(
      (wrong) =>
        !form.some(
          ({ field, group, table }) =>
            wrong.field.split('.')[0] === field &&
            (table ? wrong.field.includes('.') : !section.groups.includes(group)),
        ),
    ),
  )
  const shown = (field: string, value: string) => {
    const table = form.find((one) => one.field === field)?.table
    return table ? told(table, value) : value
  }
  async function set(event?: SubmitEvent) {
    event?.preventDefault()
    const answer = await outbox.send<Schemas['AllPreferences']>({
      method: 'PUT',
      path: `/api/ways/${level}`,
      body: { ...sent(editing.send()), version: editing.version, typed_in: unit },
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

<form class="min-w-0" aria-label={title} onsubmit={set}>
  <h2 class="sr-only">{title}: {section.title}</h2>
  {#each section.groups as group, i (group)}
    {@const asked = form.filter((one) => one.group === group)}
    {#if asked[0]?.table}
      {#each asked as one (one.field)}
        {#if one.table}
          <p class={['text-lead', i && 'mt-5']}>{one.before}</p>
          {#each says[one.field] ?? [] as line (line)}
            <p class="text-flame-text mt-2"><Say text={line} /></p>
          {/each}
          {@const View = VIEWS[one.table.shown]}
          <div class="mt-3">
            <View
              field={one.field}
              label={one.label}
              {level}
              table={one.table}
              bind:value={() => editing.said[one.field] ?? '', (v) => (editing.said[one.field] = v)}
              above={level === 'mine' ? ((usual[one.field] ?? []) as Row[]) : []}
              whose={level === 'mine' ? above : ''}
              mistakes={editing.mistakes}
            />
          </div>
        {/if}
      {/each}
    {:else}
      <p class={i ? 'text-soft mt-3 text-body leading-[1.8]' : 'text-lead leading-[1.9]'}>
        {#each asked as one (one.field)}{clings(one.before)
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
              placeholder={String(usual[one.field] ?? '')}
              mistakes={editing.mistakes}
            />{/if}{clings(one.after) || !one.after ? '' : GAP}{one.after}{/each}
      </p>
    {/if}
  {/each}
  <Mistakes mistakes={here} />
  {#each elsewhere as one (one.key)}
    <p class="text-flame-text mt-1">
      Something is wrong in <a class="quiet" href={at(one.key)}>{one.title}</a>.
    </p>
  {/each}
  <p class="bg-base-100 sticky bottom-0 z-10 mt-3 flex flex-wrap items-baseline gap-x-5 py-3">
    {#if !editing.rows && may}<button class="btn btn-primary">Keep these ways</button>{/if}
    {#if editing.kept}<span class="text-blue">Kept.</span>{/if}
    <span class="text-soft text-small">
      {level === 'mine'
        ? 'What is your own goes before the shop’s; what is left open follows it.'
        : may
          ? 'What is the shop’s own goes before what is usual.'
          : 'The workshop’s ways are set by an owner; your own go before them.'}
    </span>
  </p>
  <DraftSays draft={editing.draft} />
</form>
<Theirs {editing} {shown} onsave={set} />
