<script lang="ts">
  import { onMount } from 'svelte'

  import { api, ask, type Schemas } from '$lib/api/client'
  import { Live } from '$lib/live.svelte'
  import Say from '$lib/parts/Say.svelte'

  interface Props {
    style: string
    ways: Schemas['Preferences']
    text: string
    onsaid: (fields: Record<string, string>) => void
    onclose: () => void
  }
  let { style, ways, text = $bindable(), onsaid, onclose }: Props = $props()
  let field: HTMLInputElement | undefined = $state()
  const live = new Live<{ text: string; read: Schemas['Shorthand'] }>(0)
  const read = $derived(live.answer?.read ?? null)
  const readText = $derived(live.answer?.text ?? '')
  let at = $state(-1)
  const choices = $derived(read?.completions ?? [])
  const slips = $derived(readText === text ? (read?.mistakes ?? []) : [])
  const slip = $derived(slips[0])

  onMount(() => field?.focus())
  $effect(() => {
    const asked = text
    const body = {
      text: asked,
      home_scale: ways.home_scale,
      units: ways.units,
      style,
    }
    return live.want(async (signal) => {
      const answer = await ask(api.POST('/api/plan/shorthand', { body, signal }))
      if (!answer?.data) return undefined
      at = -1
      return { data: { text: asked, read: answer.data }, problem: null }
    })
  })

  function keyed(event: KeyboardEvent) {
    if (event.key === 'Escape') {
      event.stopPropagation()
      onclose()
    } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      at = Math.max(-1, Math.min(choices.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))
    } else if (event.key === 'Tab' && choices.length && !event.shiftKey) {
      event.preventDefault()
      take(Math.max(at, 0))
    } else if (event.key === 'Enter') {
      event.preventDefault()
      if (at >= 0) take(at)
      else if (readText === text && text.trim() && !slips.length && read) onsaid(read.fields)
    }
  }
  function take(i: number) {
    const choice = choices[i]
    if (choice) text = `${choice.text}, `
    field?.focus()
  }
</script>

<section aria-label="Shorthand" class="mb-5">
  <input
    bind:this={field}
    bind:value={text}
    class="line"
    role="combobox"
    aria-label="The order in one line"
    aria-expanded={choices.length > 0}
    aria-controls="completions"
    aria-activedescendant={at >= 0 ? `completion-${at}` : undefined}
    aria-invalid={slips.length > 0}
    aria-describedby="shorthand-says"
    placeholder={ways.units === 'in'
      ? 'us 5, half-round 0.14x0.06, sterling'
      : 'us 5, half-round 3.6x1.5, sterling'}
    autocomplete="off"
    spellcheck="false"
    maxlength="400"
    onkeydown={keyed}
  />
  {#if slip}
    <p class="under" aria-hidden="true">
      <span class="blank">{text.slice(0, slip.start)}</span><span class="wrong"
        >{text.slice(slip.start, slip.end) || ' '}</span
      >
    </p>
  {/if}
  <p id="shorthand-says" class="text-body" aria-live="polite">
    {#if slip}<span class="text-flame-text"
        ><span class="font-medium">{slip.message}</span> {slip.hint}</span
      >
    {:else if read?.summary}<span class="text-blue"><Say text={read.summary} />. </span>
      <span class="text-soft">Enter takes it, Escape leaves it.</span>
    {:else}<span class="text-soft"
        >Size, style, stock, metal and any word of the style, with commas between.</span
      >{/if}
  </p>
  <ul
    id="completions"
    role="listbox"
    aria-label="How it could go on"
    class="mt-1 flex flex-wrap gap-x-6"
  >
    {#each choices as choice, i (choice.word + choice.says)}
      <li
        id={`completion-${i}`}
        role="option"
        aria-selected={at === i}
        class={['cursor-pointer px-1', at === i && 'bg-wash']}
      >
        <button type="button" tabindex="-1" class="cursor-pointer" onclick={() => take(i)}
          ><span class="text-blue font-medium">{choice.word}</span>
          <span class="text-soft">{choice.says}</span></button
        >
      </li>
    {/each}
  </ul>
</section>

<style>
  .line,
  .under {
    width: 100%;
    font-size: var(--text-title);
    font-weight: 500;
    font-family: var(--font-sans);
  }
  .line {
    background: transparent;
    border: 0;
    border-bottom: 3px solid var(--color-primary);
    padding: 0;
    color: inherit;
    line-height: 1.3;
  }
  .line:focus {
    outline: none;
  }
  .line::placeholder {
    color: var(--soft);
    opacity: 1;
    font-weight: 400;
  }
  .under {
    height: 6px;
    margin-top: -4px;
    overflow: hidden;
    white-space: pre;
    line-height: 1;
  }
  .blank,
  .wrong {
    display: inline-block;
    height: 4px;
    overflow: hidden;
    vertical-align: top;
    color: transparent;
  }
  .wrong {
    background: var(--flame);
    min-width: 0.5em;
  }
</style>
