<!-- First rows under the columns they were mapped to, problems marked and first. -->
<script lang="ts">
  import TableMenu from '$lib/components/table-menu.svelte';
  import type { ImportPreview } from '$lib/schema/chain-import';
  import type { ChainImport } from '$lib/state/chain-import.svelte';

  interface Props {
    task: ChainImport;
    preview: ImportPreview;
  }
  let { task, preview }: Props = $props();
  const FIELDS = [
    ['underlying', 'underlying'],
    ['asOf', 'instant of quotes'],
    ['underlyingPrice', 'underlying price'],
    ['expiry', 'expiry'],
    ['side', 'call or put'],
    ['strike', 'strike'],
    ['bid', 'bid'],
    ['ask', 'offer'],
    ['bidSize', 'bid size'],
    ['askSize', 'offer size'],
    ['last', 'last trade'],
    ['volume', 'volume'],
    ['openInterest', 'open interest'],
  ] as const;
  type Field = (typeof FIELDS)[number][0];
  const TYPEABLE = ['underlying', 'asOf', 'underlyingPrice'] as const;
  const fieldOf = (column: number) => FIELDS.find(([field]) => preview.mapping[field] === column)?.[0];

  function map(column: number, field: Field | ''): void {
    const mapping = Object.fromEntries(Object.entries(preview.mapping).filter(([f, c]) => c !== column && f !== field));
    void task.correct({ mapping: field === '' ? mapping : { ...mapping, [field]: column } });
  }
</script>

<div class="mt-3 flex flex-wrap gap-4 text-[11.5px]">
  {#each TYPEABLE.filter((field) => preview.mapping[field] === undefined) as field (field)}
    <label class="flex flex-col"
      ><span class="quiet">{FIELDS.find(([f]) => f === field)?.[1]}, for every row</span>
      <input class="input input-xs w-44" bind:value={task.typed[field]} onchange={() => task.correct({})} />
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
              onchange={(event) => map(column, event.currentTarget.value as Field | '')}
            >
              <option value="">not read</option>
              {#each FIELDS as [field, label] (field)}<option value={field}>{label}</option>{/each}
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
