<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { gauges } from '$lib/gauges.svelte'
  import { length } from '$lib/length.svelte'
  import { Live } from '$lib/live.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Say from '$lib/parts/Say.svelte'
  import Word from '$lib/parts/Word.svelte'

  let text = $state('7')
  let on = $state('')
  const live = new Live<Schemas['Conversion']>()
  const made = $derived(live.answer)
  const mistakes = $derived(live.mistakes)
  let room = $state(1208)

  const LEFT = 290
  const ROW = 34
  const TOP = 12
  const x = (mm: number) =>
    made ? LEFT + ((mm - made.low_mm) / (made.high_mm - made.low_mm)) * (room - LEFT - 16) : 0
  const tall = (kind: string) => (kind === 'whole' ? 18 : kind === 'half' ? 12 : 7)
  const paper = $derived(
    `/api/conversion/page.pdf?text=${encodeURIComponent(text)}${on ? `&gauge_id=${on}` : ''}`,
  )

  const draft = new Draft(
    'conversion',
    () => ({ text, on }),
    (typed) => ({ text, on } = typed),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  $effect(() => {
    const body = { text, gauge_id: on ? Number(on) : null }
    return live.want((signal) => ask(api.POST('/api/conversion', { body, signal })))
  })
</script>

<section class="mt-9" aria-label="One finger everywhere">
  <p class="text-order leading-[1.6]">
    Finger <Word bind:value={text} label="Finger" field="text" placeholder="size" {mistakes} /> on
    <Choose bind:value={on} label="Read on" field="gauge_id" choices={gauges.choices} {mistakes} />
    {#if made}<span class={mistakes.length ? 'stale' : ''}
        >is <strong class="font-semibold">{length(made.inside_diameter_mm)}</strong> inside,
        {length(made.circumference_mm)} round.</span
      >{/if}
    <a class="quiet ml-3 text-note" href={paper} target="_blank">print it</a>
  </p>
  <Mistakes {mistakes} />
  <div bind:clientWidth={room} class="mt-2">
    {#if made && room > 600}
      <svg
        width={room}
        height={TOP + made.rows.length * ROW + 8}
        class={mistakes.length ? 'stale' : ''}
        role="img"
        aria-label={`The finger on every scale: ${made.rows.map((row) => `${row.title} ${row.text}`).join('; ')}`}
        data-testid="conversion"
      >
        {#each made.rows as row, i (row.title)}
          {@const y = TOP + i * ROW + 20}
          <line x1={LEFT} x2={room - 16} y1={y} y2={y} class="rule" />
          {#each row.marks as mark (mark.diameter_mm)}
            <line
              x1={x(mark.diameter_mm)}
              x2={x(mark.diameter_mm)}
              y1={y}
              y2={y - tall(mark.kind)}
              class="tick"
            />
            {#if mark.label}
              <text x={x(mark.diameter_mm) + 4} y={y - 7} class="label">{mark.label}</text>
            {/if}
          {/each}
        {/each}
        <line
          x1={x(made.inside_diameter_mm)}
          x2={x(made.inside_diameter_mm)}
          y1="0"
          y2={TOP + made.rows.length * ROW}
          class="finger"
        />
        {#each made.rows as row, i (row.title)}
          <foreignObject x="0" y={TOP + i * ROW - 2} width={LEFT - 12} height={ROW}>
            <p class="flex justify-between gap-3 text-note whitespace-nowrap">
              <span class={row.gauge ? 'font-medium' : 'text-soft'}>{row.title}</span>
              <span class="font-medium"><Say text={row.text} /></span>
            </p>
          </foreignObject>
        {/each}
      </svg>
    {:else if made}
      <dl>
        {#each made.rows as row (row.title)}
          <div class="flex justify-between">
            <dt class="text-soft">{row.title}</dt>
            <dd class="font-medium"><Say text={row.text} /></dd>
          </div>
        {/each}
      </dl>
    {/if}
  </div>
</section>

<style>
  .rule,
  .tick {
    stroke: var(--color-base-content);
    stroke-width: 1.2;
  }
  .label {
    font-size: 13px;
  }
  .finger {
    stroke: var(--color-primary);
    stroke-width: 2.5;
  }
</style>
