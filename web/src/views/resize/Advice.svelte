<script lang="ts">
  import type { ResizePlan } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  interface Props {
    plan: ResizePlan
    stale: boolean
    onpick: (method: string) => void
  }
  let { plan, stale, onpick }: Props = $props()
  const SAID: Record<string, string> = { do: 'do this' }
  /** The first reasons are enough to look past a way; the chosen one shows all, and any other that is asked. */
  const FIRST = 2
  let asked = $state('')
  const reasons = (one: ResizePlan['methods'][number]) =>
    one.key === plan.method || one.key === asked || one.why.length === FIRST + 1
      ? one.why
      : one.why.slice(0, FIRST)
  /** What is only not needed is named in one line, unless it is the way that was chosen. */
  const quiet = $derived(plan.methods.filter((one) => one.quiet && one.key !== plan.method))
  const told = $derived(plan.methods.filter((one) => !quiet.includes(one)))
  const HARD = ['out', 'off', 'loose', 'stuck']
  const said = (advice: string) => SAID[advice] ?? advice
</script>

<ul class={['advice', stale && 'stale', 'eased']} aria-label="What can be done">
  {#each told as one (one.key)}
    <li data-method={one.key} data-advice={one.advice}>
      <button
        type="button"
        class={['pick', one.key === plan.method && 'here']}
        aria-pressed={one.key === plan.method}
        onclick={() => onpick(one.key)}>{one.title}</button
      >
      <span class={['verdict', one.advice]}>{said(one.advice)}</span>
      <span class="text-soft text-small leading-snug">
        {#each reasons(one) as why, i (i)}<Say text={`${why}. `} />{/each}
        {#if reasons(one).length < one.why.length}<button
            type="button"
            class="quiet"
            onclick={() => (asked = one.key)}
            >and {one.why.length - reasons(one).length} more reasons</button
          >{/if}
      </span>
    </li>
  {/each}
  {#if quiet.length}
    <li class="text-soft text-small" aria-label="Not needed">
      <span class="row">
        not needed:
        {#each quiet as one, i (one.key)}{i ? ', ' : ''}<button
            type="button"
            class="quiet"
            data-method={one.key}
            data-advice={one.advice}
            aria-pressed="false"
            onclick={() => onpick(one.key)}>{one.title}</button
          >{/each}
      </span>
    </li>
  {/if}
  {#each plan.stone_advice as one, i (i)}
    <li data-stone={one.kind}>
      <span class="name">{one.id || `the ${one.title.replace(/^a /, '')}`}</span>
      <span class={['verdict', HARD.includes(one.key ?? '') ? 'avoid' : 'do']}>{one.advice}</span>
      <span class="text-soft text-small leading-snug"><Say text={`${one.why}.`} /></span>
    </li>
  {/each}
  {#each plan.joints as one (one.key)}
    <li>
      <span class="name">{plan.joints.length > 1 ? one.title : 'solder'}</span>
      <span class="verdict">{one.solder_title}</span>
      <span class="text-soft text-small leading-snug"
        ><Say text={one.says} />
        {one.chips === 1 ? 'One chip' : `${one.chips} chips`} across the joint.</span
      >
    </li>
  {/each}
</ul>

<style>
  li {
    display: grid;
    grid-template-columns: 8.2rem 6.4rem 1fr;
    gap: 0.8rem;
    align-items: baseline;
    padding: 0.5rem 0;
    border-top: 1px solid var(--hairline);
    font-size: var(--text-body);
  }
  .row {
    grid-column: 1 / -1;
  }
  .pick,
  .name {
    font-weight: 600;
    text-align: left;
  }
  .pick {
    cursor: pointer;
    border-bottom: 2px solid transparent;
    justify-self: start;
  }
  .pick:hover {
    background: var(--wash);
  }
  .here {
    border-color: var(--color-primary);
  }
  .verdict {
    font-weight: 500;
  }
  .do {
    color: var(--color-primary);
  }
  .avoid,
  .never {
    color: var(--flame-text);
  }
  @media (max-width: 560px) {
    li {
      grid-template-columns: 1fr auto;
    }
    li > :last-child {
      grid-column: 1 / -1;
    }
  }
</style>
