<!-- A table of values with what belongs to it: taken along to files, its columns chosen, its figures explained. -->
<script lang="ts" generics="Row extends object">
  import { onMount } from 'svelte';
  import { page } from '$app/state';
  import DataTable from '../ui/table/data-table.svelte';
  import type { ShownCell, ShownTable } from '../ui/shown-table';
  import { columnsFile, columnsShown, type TableColumn } from '../ui/table/table-column';
  import type { TableProps } from '../ui/table/table-props';
  import { TableLayout } from '../ui/table/table-layout.svelte';
  import ColumnsDialog from './columns-dialog.svelte';
  import { workingsHost } from './workings-host';
  import { pageState } from './page-state.svelte';
  import TableMenu from './table-menu.svelte';

  interface Props extends TableProps<Row> {
    /** What the table shows, for its files and those who hear it */
    name: string;
    /** Under which its columns are kept in the browser */
    storage: string;
    /** What is the same of all rows, first in the file */
    context?: Readonly<Record<string, ShownCell>>;
    /** What is drawn of the columns that are chosen, where that is not they themselves */
    expand?: (chosen: readonly TableColumn<Row>[]) => TableColumn<Row>[];
    /** The file, where it holds more than the columns shown do; gets their identifiers */
    file?: (shown: readonly string[]) => ShownTable;
  }
  let { name, storage, columns, expand, rows, context, file, ...rest }: Props = $props();
  const { changes } = pageState();
  // svelte-ignore state_referenced_locally
  const host = expand || columns.some((c) => c.figure) ? workingsHost() : undefined;
  // What can be chosen from is the same as long as the table stands.
  // svelte-ignore state_referenced_locally
  const sized = expand ? [...columns, ...expand(columns)] : columns;
  // svelte-ignore state_referenced_locally
  const layout = new TableLayout(storage, sized, (change) => changes.note({ ...change, at: page.url.pathname }));
  onMount(() => {
    layout.load();
    return () => changes.forget(layout);
  });
  const drawn = $derived(
    expand
      ? expand(columnsShown(columns, layout.shown).map((c) => ({ ...c, width: layout.widths[c.id] ?? c.width })))
      : columns,
  );
  let isChoosing = $state(false);

  function values(): ShownTable {
    if (file) return file(layout.shown);
    return columnsFile(columnsShown(columns, layout.shown), rows, context);
  }
</script>

<div>
  <TableMenu {name} {values} isBusy={rest.isBusy} onchoose={() => (isChoosing = true)} />
  {#if isChoosing}<ColumnsDialog {name} {columns} {layout} bind:isOpen={isChoosing} />{/if}
  <DataTable
    label={name}
    columns={drawn}
    {layout}
    {rows}
    onfigure={host && ((id) => host.openWorkings(id))}
    {...rest}
  />
</div>
