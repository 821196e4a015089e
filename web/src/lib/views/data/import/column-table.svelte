<!-- First rows under the columns they were mapped to, problems marked and first. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import type { ImportPreview } from '$lib/api/chain-import';
  import { CHAIN_FIELDS, type ChainField, TYPEABLE_FIELDS } from '@umwelt/market/chain-format';
  import { fieldWord } from './import-words';
  import type { FileImport } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    preview: ImportPreview;
  }
  let { item, preview }: Props = $props();
  const fieldOf = (column: number) => CHAIN_FIELDS.find((field) => preview.mapping[field] === column);
  const typed = $derived(preview.typed as Record<string, string | undefined>);
  // What a column gives needs no typing.
  const typeable = $derived(
    TYPEABLE_FIELDS.filter((field) => preview.mapping[field] === undefined).filter(
      (field) => preview.missing.includes(field) || typed[field] !== undefined || field === 'underlyingPrice',
    ),
  );

  function map(column: number, field: ChainField | ''): void {
    const mapping = Object.fromEntries(Object.entries(preview.mapping).filter(([f, c]) => c !== column && f !== field));
    void item.correct({ mapping: field === '' ? mapping : { ...mapping, [field]: column } });
  }

  const rows = $derived(preview.rows.map((row, index) => ({ ...row, index })));
  type Row = (typeof rows)[number];
  /** Columns are told apart by their place: a file may give two one name. */
  const placeOf = (column: TableColumn<Row>) => Number(column.id);
  const columns = $derived(
    preview.headers.map((header, place): TableColumn<Row> => ({
      id: String(place),
      head: header,
      width: 124,
      align: 'left',
      headCell: meaning,
      value: (row) => row.cells[place],
      text: (row) => row.cells[place],
      tone: (row) => (row.problem && row.problem.field === fieldOf(place) ? 'text-loss font-semibold' : ''),
    })),
  );
</script>

{#snippet meaning(column: TableColumn<Row>)}
  <div>{column.head}</div>
  <select
    class="select select-xs w-28 {fieldOf(placeOf(column)) ? '' : 'text-soft'}"
    aria-label="Meaning of column {column.head}"
    value={fieldOf(placeOf(column)) ?? ''}
    onchange={(event) => map(placeOf(column), event.currentTarget.value as ChainField | '')}
  >
    <option value="">not read</option>
    {#each CHAIN_FIELDS as field (field)}<option value={field}>{fieldWord(field)}</option>{/each}
  </select>
{/snippet}

{#snippet problem(row: Row)}
  {#if row.problem}
    <span class="text-loss">line {row.problem.line}, {row.problem.field}: {row.problem.code}; {row.problem.remedy}</span
    >
  {/if}
{/snippet}

<div class="mt-3 flex flex-wrap gap-4 text-[11.5px]">
  {#each typeable as field (field)}
    <label class="flex flex-col"
      ><span class="quiet">{fieldWord(field)}, for every row</span>
      <input
        class="input input-xs w-44 {item.typed[field] ? 'text-own' : ''}"
        value={item.typed[field] ?? typed[field] ?? ''}
        onchange={(event) => {
          item.typed = { ...item.typed, [field]: event.currentTarget.value };
          void item.correct({});
        }}
      />
    </label>
  {/each}
</div>
<div class="mt-3 overflow-x-auto">
  {#key preview.headers.join('\n')}
    <ValueTable
      name="Import preview"
      storage="import-preview"
      {columns}
      {rows}
      rowKey={(row) => String(row.index)}
      isOrdered
      rowTone={(row) => (row.problem ? 'bg-hair' : '')}
      under={{ of: (row) => Boolean(row.problem), draw: problem }}
      testid="preview"
      class="text-[12px]"
    />
  {/key}
</div>
