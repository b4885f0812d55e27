<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { columnsOf, FACES, isUnlike } from '$lib/finish'

  interface Props {
    route: Schemas['Step'][]
    /** The step that is worked now, and those that are done. */
    here?: string
    done?: { has(key: string): boolean }
    stale?: boolean
  }
  let { route, here = '', done = new Set<string>(), stale = false }: Props = $props()
  const columns = $derived(columnsOf(route))
</script>

{#if columns.length && isUnlike(columns)}
  <table class={[stale && 'stale', 'eased text-small']}>
    <caption class="text-soft mb-1 text-left">Finish, face by face</caption>
    <thead>
      <tr>
        <td></td>
        {#each columns as column, i (i)}
          <th
            scope="col"
            aria-current={column.step === here ? 'step' : undefined}
            class={column.step === here ? 'text-blue font-medium' : 'text-soft font-normal'}
            >{column.title}</th
          >
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each FACES as face (face)}
        <tr>
          <th scope="row" class="pr-3 text-left font-normal">{face}</th>
          {#each columns as column, i (i)}
            {@const on = column.faces.includes(face)}
            <td>
              <span
                class={[
                  'cell',
                  on && 'on',
                  done.has(column.step) && 'done',
                  column.step === here && 'here',
                ]}><span class="sr-only">{on ? 'yes' : 'no'}</span></span
              >
            </td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
{/if}

<style>
  th[scope='col'] {
    padding: 0 6px 2px 0;
    text-align: left;
    vertical-align: bottom;
    line-height: 1.1;
    max-width: 3.6rem;
  }
  td {
    padding: 3px 6px 3px 0;
  }
  .cell {
    display: block;
    height: 10px;
    min-width: 22px;
    border-bottom: 1px solid var(--hairline);
  }
  .on {
    background: var(--wash);
    border-bottom: 2px solid var(--color-blue);
  }
  .on.done {
    background: var(--color-blue);
  }
  .on.here {
    background: var(--color-blue);
    outline: 2px solid var(--color-blue);
    outline-offset: 2px;
  }
</style>
