<!-- First rows under the columns they were mapped to, problems marked and first. -->
<script lang="ts">
  import TableMenu from '$lib/shell/table-menu.svelte';
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
</script>

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
  <TableMenu name="Import preview" />
  <table class="figures text-[12px]" data-testid="preview">
    <thead>
      <tr>
        {#each preview.headers as header, column (column)}
          <th class="!text-left align-bottom">
            <div>{header}</div>
            <select
              class="select select-xs w-28 {fieldOf(column) ? '' : 'text-soft'}"
              aria-label="Meaning of column {header}"
              value={fieldOf(column) ?? ''}
              onchange={(event) => map(column, event.currentTarget.value as ChainField | '')}
            >
              <option value="">not read</option>
              {#each CHAIN_FIELDS as field (field)}<option value={field}>{fieldWord(field)}</option>{/each}
            </select>
          </th>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each preview.rows as row, i (i)}
        <tr class="border-hair border-b {row.problem ? 'bg-hair' : ''}">
          {#each row.cells as cell, column (column)}
            <td
              class="!text-left whitespace-nowrap {row.problem && row.problem.field === fieldOf(column)
                ? 'text-loss font-semibold'
                : ''}">{cell}</td
            >
          {/each}
        </tr>
        {#if row.problem}
          <tr
            ><td colspan={row.cells.length} class="text-loss"
              >line {row.problem.line}, {row.problem.field}: {row.problem.code}; {row.problem.remedy}</td
            ></tr
          >
        {/if}
      {/each}
    </tbody>
  </table>
</div>
