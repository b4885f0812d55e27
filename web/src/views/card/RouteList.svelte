<script lang="ts">
  import type { Step } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'

  interface Props {
    steps: Step[]
    done: Map<string, string>
    at: string
    onpick: (key: string) => void
  }
  let { steps, done, at, onpick }: Props = $props()
  const opens = (i: number) => steps[i]?.station !== steps[i - 1]?.station
</script>

<ol class="route" aria-label="The route">
  {#each steps as step, i (step.key)}
    <li class={opens(i) ? 'opens' : ''}>
      <span class="station text-soft">{opens(i) ? step.station.replace('-', ' ') : ''}</span>
      <button
        type="button"
        class={['pick', step.key === at && 'here', done.has(step.key) && 'done']}
        aria-current={step.key === at ? 'step' : undefined}
        data-step={step.key}
        data-done={done.has(step.key)}
        onclick={() => onpick(step.key)}
      >
        <span class="box" aria-hidden="true"></span>
        <span><Say text={step.title} /></span>
        <span class="sr-only">{done.has(step.key) ? 'done' : 'not done'}</span>
      </button>
    </li>
  {/each}
</ol>

<style>
  .route li {
    display: grid;
    grid-template-columns: 4.4rem 1fr;
    align-items: baseline;
    font-size: var(--text-small);
    line-height: 1.25;
  }
  .opens:not(:first-child) {
    margin-top: 0.24rem;
  }
  .station {
    font-size: var(--text-small);
  }
  .pick {
    display: flex;
    gap: 0.55rem;
    align-items: baseline;
    text-align: left;
    padding: 0.1rem 0.3rem;
    min-height: 24px;
    cursor: pointer;
  }
  .pick:hover {
    background: var(--wash);
  }
  .here {
    background: var(--color-primary);
    color: var(--color-primary-content);
    font-weight: 500;
  }
  .here:hover {
    background: var(--color-primary);
  }
  .done:not(.here) {
    color: var(--soft);
  }
  .box {
    flex: none;
    width: 10px;
    height: 10px;
    border: 1.5px solid currentColor;
  }
  .done .box {
    forced-color-adjust: none;
    background: currentColor;
  }
</style>
