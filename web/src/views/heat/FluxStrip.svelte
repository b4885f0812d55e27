<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { theme } from '$lib/theme.svelte'

  interface Props {
    title: string
    stages: Schemas['FluxStage'][]
  }
  let { title, stages }: Props = $props()
  let open = $state('')
  const shown = $derived(stages.find((one) => one.key === open) ?? stages.at(-1))
</script>

<section aria-label="Flux as a thermometer" class="mt-6" data-testid="flux">
  <h3 class="text-soft text-note">{title}</h3>
  <ol class="strip" style:--count={stages.length}>
    {#each stages as stage (stage.key)}
      <li>
        <button
          type="button"
          aria-pressed={stage.key === shown?.key}
          class={['stage', stage.key === shown?.key && 'chosen']}
          onclick={() => (open = stage.key)}
        >
          <span class="block text-body font-medium">{stage.title}</span>
          <span class="swatch" style:background={theme.dim ? stage.dim : stage.paper}></span>
          <span class="text-soft block text-small"
            >{stage.at}{stage.glow && ![stage.title, 'no colour'].includes(stage.glow)
              ? `, ${stage.glow}`
              : ''}</span
          >
        </button>
      </li>
    {/each}
  </ol>
  {#if shown}
    <p class="mt-2 text-body" aria-live="polite">
      <span class="font-medium">{shown.title}:</span>
      {shown.look}. <span class="text-soft">{shown.skipped}</span>
    </p>
  {/if}
</section>

<style>
  .strip {
    display: grid;
    grid-template-columns: repeat(var(--count), minmax(0, 1fr));
    gap: 4px;
    margin-top: 0.4rem;
  }
  .stage {
    display: block;
    width: 100%;
    text-align: left;
    cursor: pointer;
    line-height: 1.25;
  }
  .swatch {
    display: block;
    height: 20px;
    margin: 3px 0;
    border-bottom: 3px solid transparent;
  }
  .chosen .swatch {
    border-color: var(--color-primary);
  }
  @media (max-width: 640px) {
    .strip {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
