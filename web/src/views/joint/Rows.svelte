<script lang="ts">
  import Say from '$lib/parts/Say.svelte'

  interface Row {
    key: string
    says: string
    note: string
    act: boolean
  }
  let { rows }: { rows: Row[] } = $props()
</script>

<dl class="rows">
  {#each rows as row, i (i)}
    <div class={[row.key ? 'ruled' : '']}>
      <dt class="font-medium">{row.key}</dt>
      <dd class={row.act ? 'text-flame-text' : ''}><Say text={row.says} /></dd>
      <dd class="text-soft"><Say text={row.note} /></dd>
    </div>
  {/each}
</dl>

<style>
  .rows {
    margin-top: 1.4rem;
    font-size: var(--text-body);
    line-height: 1.35;
  }
  .rows > div {
    display: grid;
    grid-template-columns: 6.5rem minmax(0, 1.2fr) minmax(0, 1fr);
    gap: 0 1rem;
    padding: 0.35rem 0;
  }
  .ruled {
    border-top: 1px solid var(--color-hairline);
  }
  @media (max-width: 640px) {
    .rows > div {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
