<!-- Why a file was refused: what, where, how to mend it; the list can be taken along. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { type ImportTrouble, problemsCsv } from '$lib/api/client/file-import.svelte';

  interface Props {
    trouble: ImportTrouble;
  }
  let { trouble }: Props = $props();
  type Problem = ImportTrouble['problems'][number] & { index: number };
  const rows = $derived(trouble.problems.map((problem, index) => ({ ...problem, index })));
  const said = (id: 'field' | 'value' | 'remedy', width?: number): TableColumn<Problem> => ({
    id,
    head: id,
    width,
    align: 'left',
    value: (p) => p[id],
    text: (p) => String(p[id]),
    tone: () => '!whitespace-normal',
  });
  const columns: TableColumn<Problem>[] = [
    { id: 'line', head: 'line', width: 56, isFixed: true, value: (p) => p.line, text: (p) => String(p.line) },
    said('field', 90),
    said('value', 90),
    { id: 'code', head: 'problem', width: 110, align: 'left', value: (p) => p.code, text: (p) => p.code },
    said('remedy'),
  ];

  function download(): void {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(problemsCsv(trouble.problems));
    link.download = 'rows-to-mend.csv';
    link.click();
    URL.revokeObjectURL(link.href);
  }
</script>

<div class="border-loss bg-sheet mt-3 border-l-3 px-3 py-2" role="alert">
  <p class="font-serif text-[14.5px]">{trouble.message}</p>
  {#if trouble.problems.length > 0}
    <div class="mt-2">
      <ValueTable
        name="Rows to mend"
        storage="trouble-columns"
        {columns}
        {rows}
        rowKey={(p) => String(p.index)}
        isOrdered
        testid="rows-to-mend"
        class="text-[12px] [--table-ground:var(--sheet)]"
      />
    </div>
    <button type="button" class="text-implied mt-2 underline" onclick={download}
      >Download all {trouble.problems.length} as CSV</button
    >
  {/if}
</div>
