<script lang="ts">
  import { api, ask, type Mistake, type Schemas } from '$lib/api/client'
  import { Live } from '$lib/live.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import AddStep from './AddStep.svelte'
  import { packed, rowsOf, type Row } from './rows'
  import { changesOf, ofStyle, shifted, withStyle } from './steps'

  /** The steps of a style as the shop does them: a list that is dragged or moved by keys, and what it breaks. */
  interface Props {
    field: string
    label: string
    level: string
    table: Schemas['Table']
    value: string
    /** The shop's, where a person's own are shown: of a style without own rows they hold. */
    above: Row[]
    /** Whose those are. */
    whose: string
    mistakes: Mistake[]
  }
  let { field, label, level, table, value = $bindable(), above, whose, mistakes }: Props = $props()
  type Step = Schemas['RouteStep']
  const rows = $derived(rowsOf(value))
  let style = $state('')
  const shown = $derived(style || (rows[0]?.style ?? above[0]?.style ?? table.names[0]?.key ?? ''))
  const own = $derived(ofStyle(rows, shown))
  const inForce = $derived(own.length ? own : ofStyle(above, shown))
  const live = new Live<Schemas['OwnRoute']>(500)
  const filled = (row: Row) => Object.fromEntries(Object.entries(row).filter(([, said]) => said))
  $effect(() => {
    const body = { style: shown, steps: inForce.map(filled) } as unknown as Schemas['RouteRequest']
    return live.want((signal) => ask(api.POST('/api/plan/route', { body, signal })))
  })
  const route = $derived(live.answer?.style === shown ? live.answer : null)
  const broken = (key: string) => route?.breaks.filter((one) => one.step === key) ?? []
  const listed = $derived(new Set(route?.steps.map((one) => one.key)))
  const elsewhere = $derived(route?.breaks.filter((one) => !listed.has(one.step)) ?? [])
  const mine = $derived(mistakes.filter((one) => `${one.field}.`.startsWith(`${field}.`)))
  let dragged = $state('')
  let over = $state('')
  let said = $state('')
  let told = $state('')

  function want(steps: Step[], moving = '') {
    if (!route) return
    value = packed(withStyle(rows, shown, changesOf(shown, route.ours, steps, moving)))
  }
  function move(key: string, by: number) {
    if (!route) return
    const steps = shifted(route.steps, key, by)
    if (steps === route.steps) return
    live.answer = { ...route, steps }
    want(steps, key)
    const at = steps.findIndex((one) => one.key === key)
    said = `${steps[at]?.title ?? ''}: ${at + 1} of ${steps.length}`
  }
  function keyed(event: KeyboardEvent, key: string) {
    const by = { ArrowUp: -1, ArrowDown: 1 }[event.key]
    if (!by) return
    event.preventDefault()
    move(key, by)
  }
  /** Taken by its dots, with a mouse or a finger: it comes where it is let go. */
  function grabbed(event: PointerEvent, key: string) {
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    dragged = key
  }
  function dragging(event: PointerEvent) {
    if (!dragged) return
    const under = document.elementFromPoint(event.clientX, event.clientY)
    over = under?.closest<HTMLElement>('ol.steps > li')?.dataset.step ?? ''
  }
  function dropped() {
    const from = route?.steps.findIndex((one) => one.key === dragged) ?? -1
    const to = route?.steps.findIndex((one) => one.key === over) ?? -1
    if (from >= 0 && to >= 0) move(dragged, to - from)
    letGo()
  }
  const letGo = () => (dragged = over = '')
  const leave = (key: string) => route && want(route.steps.filter((one) => one.key !== key))
  function back(step: Step) {
    if (!route) return
    const before = route.ours.slice(0, route.ours.indexOf(step.key))
    const at = route.steps.findLastIndex((one) => before.includes(one.key)) + 1
    want([...route.steps.slice(0, at), step, ...route.steps.slice(at)])
  }
  function add(step: Step, after: string) {
    if (!route) return
    const at = route.steps.findIndex((one) => one.key === after) + 1
    want([...route.steps.slice(0, at), step, ...route.steps.slice(at)])
  }
  const minutes = (step: Step) =>
    step.wait_min ? `${step.hands_min} + ${step.wait_min}` : String(step.hands_min)
  const changed = (key: string) => rows.some((row) => row.style === key)
</script>

<p class="text-lead">
  The steps of a <Choose
    bind:value={() => shown, (key) => (style = key)}
    label="Style"
    field=""
    choices={table.names.map((one) => ({
      ...one,
      title: changed(one.key) ? `${one.title}, our own` : one.title,
    }))}
  />
  {#if own.length}<button
      type="button"
      class="quiet text-small ml-3"
      onclick={() => (value = packed(withStyle(rows, shown, [])))}>all as {whose || 'usual'}</button
    >{/if}
</p>
<Mistakes mistakes={[...mine, ...live.mistakes]} />
{#if route}
  <p class="mt-2" data-testid="tried">
    {#if route.breaks.length}<span class="text-flame-text"
        >Some of the {route.tried} rings tried cannot be made so: see the steps in this colour.</span
      >{:else if inForce.length}<span class="text-blue"
        >Worked on {route.tried} rings, in every family of metals, with each joint and each surface: nothing
        breaks.</span
      >{:else}<span class="text-soft"
        >Take a step by its dots and drag it, or move it with the arrow keys.</span
      >{/if}
  </p>
  {#each elsewhere as one (one.step + one.says)}
    <p class="text-flame-text mt-1"><Say text={`${one.says} (${one.first})`} /></p>
  {/each}
  <ol class="steps" aria-label={label}>
    {#each route.steps as step, place (step.key)}
      {@const wrong = broken(step.key)}
      {@const last = place === route.steps.length - 1}
      <li
        data-step={step.key}
        class:own={step.change !== ''}
        class:wrong={wrong.length > 0}
        class:over={over === step.key && dragged !== step.key}
        class:dragged={dragged === step.key}
      >
        <button
          type="button"
          class="grip"
          disabled={last}
          aria-label={`Move ${step.title}, arrow keys`}
          onkeydown={(event) => keyed(event, step.key)}
          onpointerdown={(event) => grabbed(event, step.key)}
          onpointermove={dragging}
          onpointerup={dropped}
          onpointercancel={letGo}><span aria-hidden="true">⠿</span></button
        >
        <span class="title"
          >{step.title}{#if step.says}<span class="text-soft">: {step.says}</span
            >{/if}{#if step.when}<span class="text-soft text-small">&ensp;in some rings</span
            >{/if}</span
        >
        <span class="text-soft text-small">{step.change || step.station}</span>
        <span class="num text-soft text-small">{minutes(step)} min</span>
        <span class="leave">
          {#if step.stays}<button
              type="button"
              class="quiet text-small"
              aria-expanded={told === step.key}
              onclick={() => (told = told === step.key ? '' : step.key)}
              >stays<span class="sr-only">: {step.title}</span></button
            >{:else}<button type="button" class="quiet text-small" onclick={() => leave(step.key)}
              >leave out<span class="sr-only">: {step.title}</span></button
            >{/if}
        </span>
        {#if told === step.key}<p class="note text-soft">{step.stays}</p>{/if}
        {#if step.untried}<p class="note text-soft">
            None of the rings tried has this step: it is worked at the first order that does.
          </p>{/if}
        {#each wrong as one (one.says)}
          <p class="note text-flame-text">
            <Say text={one.says} />
            <span class="text-soft"
              >{one.first}{one.of > 1 ? `, and ${one.of - 1} more of those tried` : ''}</span
            >
          </p>
        {/each}
      </li>
    {/each}
  </ol>
  {#if route.left_out.length}
    <ul class="mt-3" aria-label="Left out">
      {#each route.left_out as step (step.key)}
        <li class="flex flex-wrap gap-x-4" data-left-out={step.key}>
          <span class="text-soft line-through">{step.title}</span>
          <button type="button" class="quiet text-small" onclick={() => back(step)}
            >put back<span class="sr-only">: {step.title}</span></button
          >
          {#each broken(step.key) as one (one.says)}<p class="text-flame-text w-full text-note">
              <Say text={`${one.says} (${one.first})`} />
            </p>{/each}
        </li>
      {/each}
    </ul>
  {/if}
  <AddStep {route} {level} onadd={add} />
{/if}
<p class="sr-only" aria-live="polite">{said}</p>

<style>
  .steps {
    margin-top: 0.8rem;
    max-width: 52rem;
  }
  .steps li {
    display: grid;
    grid-template-columns: 1.8rem minmax(0, 1fr) 5.2rem 5.6rem 5rem;
    gap: 0 0.7rem;
    align-items: baseline;
    padding: 0.16rem 0;
    border-bottom: 1px solid var(--hairline);
  }
  .own .title {
    font-weight: 500;
  }
  .wrong .title {
    color: var(--flame-text);
  }
  .dragged .title {
    color: var(--color-primary);
  }
  .over {
    border-bottom-color: var(--color-primary);
  }
  .grip {
    min-width: 24px;
    min-height: 24px;
    color: var(--soft);
    cursor: grab;
    touch-action: none;
  }
  .grip:disabled {
    visibility: hidden;
  }
  .grip:hover {
    color: var(--color-primary);
  }
  .num,
  .leave {
    text-align: right;
    white-space: nowrap;
  }
  .leave button {
    min-height: 24px;
  }
  .note {
    grid-column: 2 / -1;
    font-size: var(--text-note);
  }
  @media (max-width: 699px) {
    .steps li {
      grid-template-columns: 1.8rem minmax(0, 1fr) auto;
    }
    .steps li > :nth-child(3),
    .steps li > .num {
      display: none;
    }
  }
</style>
