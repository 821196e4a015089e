<!-- What a table would do to what is stored, and its first rows. -->
<script lang="ts">
  import type { TablePreview } from '$lib/api/table-export';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import ValueTable from '$lib/shell/value-table.svelte';
  import { numberText } from '$lib/ui/format';
  import type { FileImport } from '$lib/api/client/file-import.svelte';

  interface Props {
    item: FileImport;
    preview: TablePreview;
  }
  let { item, preview }: Props = $props();
  const of = $derived(
    preview.underlyings.length > 0 ? ` of ${preview.underlyings.map((u) => u.symbol).join(', ')}` : '',
  );
  const owner = $derived(preview.table === 'rates' ? 'currency' : 'underlying');
  const rows = $derived(preview.first.slice(0, 6).map((cells, index) => ({ index, cells })));
  const columns = $derived(
    preview.columns.map((name, i): TableColumn<(typeof rows)[number]> => ({
      id: name,
      head: name,
      align: 'left',
      value: (row) => row.cells[i],
      text: (row) => row.cells[i],
    })),
  );
</script>

<div data-testid="table-preview">
  <p class="font-serif text-[14.5px]">
    {`${numberText(preview.rows, 0)} rows of ${preview.table}${of}`}: {preview.slices.new} new, {preview.slices.changed} would
    change, {preview.slices.same} stored just so.
  </p>
  {#if preview.isOfNeeded}
    <label class="mt-1 flex items-center gap-2 text-[12.5px]"
      ><span class="quiet">{owner} of all rows, which the file does not say</span>
      <input
        class="input input-xs w-28"
        value={item.of ?? preview.of ?? ''}
        onchange={(event) => {
          item.of = event.currentTarget.value;
          void item.correct({});
        }}
      /></label
    >
  {/if}
  {#each preview.problems.slice(0, 8) as p, n (n)}
    <p class="text-loss text-[12.5px]">{p.row > 0 ? `row ${p.row}, ` : ''}{p.column} {p.value}: {p.remedy}</p>
  {/each}
  {#if preview.first.length > 0}
    <div class="mt-2">
      {#key preview.columns.join()}
        <ValueTable
          name="First rows of {preview.table}"
          storage="preview-{preview.table}"
          {columns}
          {rows}
          rowKey={(row) => String(row.index)}
          isOrdered
          testid="first-rows"
          class="text-[12px]"
        />
      {/key}
    </div>
  {/if}
</div>
