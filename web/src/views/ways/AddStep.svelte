<script lang="ts">
  import { onMount, untrack } from 'svelte'

  import type { Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Word from '$lib/parts/Word.svelte'

  /** A step that the shop adds: its words, where it comes, what it takes, what it does to the piece. */
  interface Props {
    route: Schemas['OwnRoute']
    /** Whose ways they are. */
    level: string
    onadd: (step: Schemas['RouteStep'], after: string) => void
  }
  let { route, level, onadd }: Props = $props()
  const EMPTY = {
    title: '',
    says: '',
    after: '',
    station: 'form',
    hands: '',
    wait: '',
    deed: 'none',
  }
  let words = $state({ ...EMPTY })
  const draft = untrack(
    () =>
      new Draft(
        `ways/step/${level}`,
        () => ({ ...words }),
        (typed) => (words = typed),
      ),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  const known = $derived(route.steps.slice(0, -1))
  const after = $derived(known.some((one) => one.key === words.after) ? words.after : '')

  function add() {
    const title = words.title.trim()
    if (!title) return
    const figure = (said: string) => (said.trim().replace(',', '.') || '0') as unknown as number
    onadd(
      {
        key: `own-${title}`,
        title,
        says: words.says.trim(),
        station: words.station,
        change: 'added',
        stays: '',
        when: false,
        untried: false,
        hands_min: figure(words.hands),
        wait_min: figure(words.wait),
        deed: words.deed,
      },
      after,
    )
    words = { ...EMPTY }
    draft.done()
  }
</script>

<div class="mt-5 max-w-[52rem] text-lead leading-[1.9]" role="group" aria-label="Another step">
  And <Word
    bind:value={words.title}
    label="Name of the step"
    field=""
    placeholder="a step of our own"
    most={50}
  />: <Word
    bind:value={words.says}
    label="What is done"
    field=""
    placeholder="what is done there"
    most={300}
  />, after <Choose
    bind:value={() => after, (key) => (words.after = key)}
    label="It comes after"
    field=""
    choices={[{ key: '', title: 'nothing, it is the first' }, ...known]}
  />, among <Choose
    bind:value={words.station}
    label="Station"
    field=""
    choices={route.stations.map((key) => ({ key, title: key }))}
  />; hands <Word bind:value={words.hands} label="Minutes of hands" field="" placeholder="0" /> min, waits
  <Word bind:value={words.wait} label="Minutes of waiting" field="" placeholder="0" /> min; the piece
  is
  <Choose
    bind:value={words.deed}
    label="What it does to the piece"
    field=""
    choices={route.deeds}
  />.
  <button type="button" class="quiet ml-3 text-body" disabled={!words.title.trim()} onclick={add}
    >add it</button
  >
</div>
