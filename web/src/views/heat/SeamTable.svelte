<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import Say from '$lib/parts/Say.svelte'
  import { nth } from '$lib/text'

  let { seams, metal }: { seams: Schemas['SeamLine'][]; metal: string } = $props()
  const STANDS: Record<string, string> = { made: 'made', this: 'this one', later: 'to come' }
</script>

<table class="table mt-6 w-full" data-testid="seams">
  <caption class="text-soft text-left text-note"
    >every seam of this job, in the order of its heats</caption
  >
  <thead class="sr-only">
    <tr><th>heat</th><th>seam</th><th>solder</th><th>what must stay whole</th></tr>
  </thead>
  <tbody>
    {#each seams as seam (seam.key)}
      <tr class={seam.stands === 'this' ? 'this' : ''}>
        <td class="text-soft">{seam.heat ? `${nth(seam.heat)} heat` : 'came with it'}</td>
        <th scope="row" class="font-medium">{seam.title}</th>
        <td
          >{seam.solder}{#if seam.flow}<span class="text-soft">, {seam.flow}</span>{/if}</td
        >
        <td class={seam.holds === 'no' ? 'text-flame-text' : ''}
          ><Say text={seam.says} /><span class="sr-only">; {STANDS[seam.stands]}</span></td
        >
      </tr>
    {/each}
    <tr>
      <td></td>
      <th scope="row" class="font-medium">the metal</th>
      <td></td>
      <td>{metal}</td>
    </tr>
  </tbody>
</table>

<style>
  td,
  th {
    vertical-align: top;
  }
  td:first-child,
  td:nth-child(3) {
    white-space: nowrap;
  }
  th {
    min-width: 8.5rem;
  }
  .this th {
    color: var(--color-primary);
  }
  @media (max-width: 640px) {
    tr {
      display: block;
      border-bottom: 1px solid var(--color-hairline);
    }
    td,
    th {
      display: block;
      border: 0;
      padding: 0.1rem 0;
    }
  }
</style>
