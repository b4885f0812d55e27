<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import Say from './Say.svelte'

  interface Props {
    blank: Pick<Schemas['Blank'], 'terms' | 'sum_text'>
    mass: string
    /** What the sum is, and what the arrow keys light. */
    sum?: string
    label?: string
    lit: string
    stale?: boolean
  }
  let {
    blank,
    mass,
    sum = 'cut length',
    label = 'Ledger of the cut length; arrow keys light each stretch of the strip',
    lit = $bindable(),
    stale = false,
  }: Props = $props()
  const at = $derived(blank.terms.findIndex((term) => term.key === lit))

  function move(event: KeyboardEvent) {
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 }
    const step = steps[event.key]
    if (event.key === 'Escape') lit = ''
    if (step === undefined) return
    event.preventDefault()
    const next = at < 0 ? (step > 0 ? 0 : blank.terms.length - 1) : at + step
    lit = blank.terms[Math.max(0, Math.min(blank.terms.length - 1, next))]?.key ?? ''
  }
</script>

<div class={[stale && 'stale', 'eased']}>
  <ul
    role="listbox"
    aria-label={label}
    tabindex="0"
    aria-activedescendant={at >= 0 ? `term-${lit}` : undefined}
    onkeydown={move}
    onfocus={() => (lit = lit || (blank.terms[0]?.key ?? ''))}
    onblur={() => (lit = '')}
    onmouseleave={() => (lit = '')}
  >
    {#each blank.terms as term (term.key)}
      <li
        id={`term-${term.key}`}
        role="option"
        aria-selected={lit === term.key}
        class={['line', lit === term.key && 'bg-wash']}
        onmouseenter={() => (lit = term.key)}
        data-term={term.key}
      >
        <span class="sum">{term.text}</span>
        <span>{term.title}</span>
        <span class="text-soft text-small leading-tight"><Say text={term.why} /></span>
      </li>
    {/each}
  </ul>
  <p class="line border-ink border-t-2">
    <span class="sum">{blank.sum_text}</span>
    <span>{sum}</span>
    <span class="text-soft text-small">{mass}</span>
  </p>
</div>

<style>
  .line {
    display: grid;
    grid-template-columns: 4.2rem 10.2rem 1fr;
    gap: 0.7rem;
    align-items: baseline;
    padding: 0.32rem 0.3rem;
    cursor: default;
    border-left: 3px solid transparent;
  }
  ul:focus-visible {
    outline: none;
  }
  ul:focus-visible [aria-selected='true'] {
    border-left-color: var(--color-primary);
  }
  .sum {
    font-family: var(--font-figure);
    font-weight: 500;
    font-size: var(--text-lead);
    text-align: right;
    white-space: nowrap;
  }
  @media (max-width: 560px) {
    .line {
      grid-template-columns: 3.6rem 1fr;
    }
    .line > :last-child {
      grid-column: 2;
    }
  }
</style>
