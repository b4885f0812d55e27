<script lang="ts">
  import type { Mistake, Schemas } from '$lib/api/client'
  import { mistakeId } from '$lib/parts/mistakes'
  import { linesOf, packed, rowsOf, written, type Line, type Row } from './rows'

  /** A way that is a list: ours pale, the own bold; a row added, a cell at a time, each row taken back by itself. */
  interface Props {
    field: string
    label: string
    level: string
    table: Schemas['Table']
    value: string
    above: Row[]
    /** Whose the rows above are, where they are not ours. */
    whose: string
    mistakes: Mistake[]
  }
  let { field, label, table, value = $bindable(), above, whose, mistakes }: Props = $props()
  const own = $derived(rowsOf(value))
  const lines = $derived(linesOf(table, own, above, whose))
  const sourced = $derived(table.ours.length > 0 || above.length > 0)
  let adding = $state('')
  const path = (line: Line, cell: string) => `${field}.${line.place}.${cell}`
  const wrong = (line: Line, cell: string) =>
    line.place >= 0 && mistakes.some((one) => one.field === path(line, cell))
  const said = (line: Line) =>
    line.place < 0
      ? []
      : mistakes.filter((one) => `${one.field}.`.startsWith(`${field}.${line.place}.`))
  const of = (line: Line, cell: string) => own[line.place]?.[cell] ?? ''
  /** How a cell is called that something is wrong with. */
  const cellOf = (path: string) =>
    table.columns.find((one) => one.name === path.split('.')[2])?.title ?? table.head
  const called = (line: Line) => line.title || `${table.head} ${line.place + 1}`
  const write = (line: Line, cell: string, text: string) =>
    (value = packed(written(table, own, line, cell, text)))
  const drop = (line: Line) => (value = packed(own.filter((_, place) => place !== line.place)))
  function add(key: string) {
    const begun = Object.fromEntries(
      table.columns
        .filter((one) => one.choices.length)
        .map((one) => [one.name, one.choices[0]?.key ?? '']),
    )
    value = packed([...own, { ...begun, [table.key]: key }])
    adding = ''
  }
</script>

{#if value && !own.length}
  <!-- a draft of before lists were tables: it goes over as it was typed -->
  <p class="mb-3">
    As it was typed before, until it is kept: <input
      class="word"
      aria-label={`${label} as typed before`}
      bind:value
      autocomplete="off"
    />
  </p>
{/if}
<table class="table w-full table-fixed" inert={value !== '' && !own.length} aria-label={label}>
  <thead>
    <tr>
      <th class="name">{table.head}</th>
      {#each table.columns as column (column.name)}<th
          class={column.wide ? 'words' : column.choices.length ? 'choice' : 'num'}
          >{column.title}</th
        >{/each}
      {#if sourced}<th class="from">from</th>{/if}
      <th class="back"><span class="sr-only">taken back</span></th>
    </tr>
  </thead>
  <tbody>
    {#each lines as line (line.id)}
      <tr class:own={line.place >= 0} data-row={line.key}>
        <th class="name" scope="row">
          {#if !table.names.length && line.place >= 0}<input
              class="word"
              aria-label={`Name of ${table.head} ${line.place + 1}`}
              aria-invalid={wrong(line, table.key)}
              value={line.key}
              placeholder="its name"
              maxlength="60"
              autocomplete="off"
              oninput={(event) => write(line, table.key, event.currentTarget.value)}
            />{:else}{line.title}{/if}
        </th>
        {#each table.columns as column (column.name)}
          <td>
            {#if line.fixed}<span class="text-soft"
                >{column.choices.find((one) => one.key === line.pale[column.name])?.title ??
                  line.pale[column.name]}</span
              >{:else if column.choices.length}<select
                class="word"
                aria-label={`${called(line)}: ${column.title}`}
                aria-invalid={wrong(line, column.name)}
                value={of(line, column.name) || line.pale[column.name]}
                onchange={(event) => write(line, column.name, event.currentTarget.value)}
              >
                {#each column.choices as one (one.key)}<option value={one.key}>{one.title}</option
                  >{/each}
              </select>{:else}<input
                class="word"
                aria-label={`${called(line)}: ${column.title}`}
                aria-invalid={wrong(line, column.name)}
                aria-describedby={wrong(line, column.name)
                  ? mistakeId(path(line, column.name))
                  : undefined}
                value={of(line, column.name)}
                placeholder={line.pale[column.name] || '–'}
                maxlength="200"
                autocomplete="off"
                oninput={(event) => write(line, column.name, event.currentTarget.value)}
              />{/if}
          </td>
        {/each}
        {#if sourced}<td class="from" title={line.source}
            ><span>{line.place < 0 ? line.source : whose ? 'your own' : 'our own'}</span></td
          >{/if}
        <td class="back"
          >{#if line.place >= 0}<button
              type="button"
              class="quiet"
              aria-label={`${called(line)}: take it back`}
              onclick={() => drop(line)}
              ><span class="long"
                >{Object.keys(line.pale).length ? 'take it back' : 'leave it out'}</span
              ><span class="short" aria-hidden="true">×</span></button
            >{/if}</td
        >
      </tr>
      {#each said(line) as one (one.field + one.message)}
        <tr class="said">
          <td colspan={table.columns.length + (sourced ? 3 : 2)} id={mistakeId(one.field)}
            >{cellOf(one.field)}: {one.message} {one.hint}</td
          >
        </tr>
      {/each}
    {/each}
  </tbody>
</table>
{#if table.more}
  <p class="mt-2">
    {#if table.names.length}<select
        class="word"
        aria-label={`Another ${table.head}`}
        bind:value={adding}
        onchange={() => adding && add(adding)}
      >
        <option value="">and another</option>
        {#each table.names as one (one.key)}<option value={one.key}>{one.title}</option>{/each}
      </select>{:else}<button type="button" class="quiet" onclick={() => add('')}
        >and another</button
      >{/if}
  </p>
{/if}

<style>
  thead th {
    border-bottom: 2px solid var(--color-base-content);
  }
  th,
  td {
    padding-right: 0.75rem;
  }
  .word {
    width: 100%;
    max-width: 100%;
    min-width: 0;
    field-sizing: fixed;
  }
  tr:not(.own) .word {
    color: var(--soft);
    border-color: var(--hairline);
    font-weight: 400;
  }
  .own th,
  .own td {
    font-weight: 500;
  }
  .name {
    width: 20%;
  }
  .num {
    width: 5.6rem;
  }
  .words {
    width: 46%;
  }
  .choice {
    width: 7rem;
  }
  .short {
    display: none;
  }
  .from {
    color: var(--soft);
    font-size: var(--text-small);
    font-weight: 400 !important;
    line-height: 1.3;
  }
  .from span {
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    overflow: hidden;
  }
  .back {
    width: 7.5rem;
    text-align: right !important;
    font-size: var(--text-small);
    padding-right: 0 !important;
    white-space: nowrap;
  }
  .said td {
    color: var(--flame-text);
    font-size: var(--text-note);
  }
  @media (max-width: 999px) {
    .num {
      width: 4.6rem;
    }
    .choice {
      width: 5.4rem;
    }
    .back {
      width: 1.6rem;
    }
    .long {
      display: none;
    }
    .short {
      display: inline;
      padding: 0 0.3rem;
    }
  }
  @media (max-width: 699px) {
    .from {
      display: none;
    }
    .name {
      width: 30%;
    }
    .num,
    .choice {
      width: auto;
    }
    tbody td,
    tbody th {
      padding-right: 0.45rem;
    }
    table {
      font-size: var(--text-note);
    }
  }
</style>
