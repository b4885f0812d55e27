<script lang="ts">
  import { clock } from '$lib/clock.svelte'
  import Say from '$lib/parts/Say.svelte'
  import { whenWords } from '$lib/text'
  import type { Row } from '$lib/theirs'

  interface Props {
    /** What was saved meanwhile, where something was; it takes what is chosen. */
    editing: { rows: Row[] | null; by: string; at: string; choose: (rows: Row[]) => void }
    /** How a value is called on the sheet: a metal by its name, not its key. */
    shown?: (field: string, value: string) => string
    /** What was chosen lies on the sheet: save it. */
    onsave: () => void
  }
  let { editing, shown = (_, value) => value, onsave }: Props = $props()
  let rows = $derived(editing.rows ?? [])
  const who = $derived(editing.by || 'Somebody')
  const pick = (field: string, side: Row['pick']) =>
    (rows = rows.map((row) => (row.field === field || !field ? { ...row, pick: side } : row)))
</script>

{#if editing.rows}
  <section
    aria-label="Theirs beside yours"
    class="border-ink mt-3 mb-6 max-w-[60rem] border-y-2 py-3"
    data-testid="theirs"
  >
    <h2 class="text-lead font-medium">
      {who} saved this {editing.at ? whenWords(editing.at, clock.now) : 'meanwhile'}. Choose, then
      save.
    </h2>
    {#if rows.length}
      <table class="table mt-2 w-full">
        <thead>
          <tr><th>what</th><th>yours</th><th>theirs</th></tr>
        </thead>
        <tbody>
          {#each rows as row (row.field)}
            <tr data-row={row.field}>
              <th class="text-soft w-[10rem]">{row.label}</th>
              {#each ['mine', 'theirs'] as const as side (side)}
                <td>
                  <label class={['side', row.pick === side && 'picked']}>
                    <input
                      type="radio"
                      name={`pick-${row.field}`}
                      checked={row.pick === side}
                      onchange={() => pick(row.field, side)}
                      aria-label={`${row.label}: ${side === 'mine' ? 'keep mine' : 'keep theirs'}`}
                    />
                    {#if row[side]}<span><Say text={shown(row.field, row[side])} /></span>{:else}<em
                        class="text-soft">nothing</em
                      >{/if}
                  </label>
                </td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>
    {:else}
      <p class="mt-2">What is on this sheet is the same as theirs.</p>
    {/if}
    <p class="mt-3 flex flex-wrap items-baseline gap-5">
      <button
        type="button"
        class="btn btn-primary text-body"
        onclick={() => {
          editing.choose(rows)
          onsave()
        }}>Save what is chosen</button
      >
      <button type="button" class="quiet" onclick={() => pick('', 'mine')}>all mine</button>
      <button type="button" class="quiet" onclick={() => pick('', 'theirs')}>all theirs</button>
    </p>
  </section>
{/if}

<style>
  .side {
    display: flex;
    gap: 0.5rem;
    align-items: baseline;
    cursor: pointer;
    min-height: 24px;
  }
  .picked {
    color: var(--color-primary);
    font-weight: 500;
  }
  input {
    accent-color: var(--color-primary);
  }
</style>
