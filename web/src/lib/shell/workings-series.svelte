<!-- Inputs of a figure that come in rows. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { type FigureScale, inputText, type Workings } from '$lib/measures';

  interface Props {
    series: NonNullable<Workings['series']>[number];
    scale: FigureScale;
  }
  let { series, scale }: Props = $props();
  const rows = $derived(series.rows.map((values, index) => ({ values, index })));
  type Row = (typeof rows)[number];
  const columns = $derived(
    series.columns.map(({ symbol, label, unit }, at): TableColumn<Row> => ({
      id: symbol,
      head: symbol,
      label,
      definition: `${label.charAt(0).toUpperCase()}${label.slice(1)}.`,
      width: 48,
      isFixed: at === 0,
      value: (row) => row.values[at],
      text: (row) => inputText(row.values[at], unit, scale),
    })),
  );
</script>

<h3 class="small-caps mt-3">{series.label}</h3>
<p class="quiet text-[11px]">{rows.length} {rows.length === 1 ? 'row' : 'rows'} · {series.source}</p>
<ValueTable
  name="Workings, {series.label}"
  storage="workings-{series.label.replaceAll(' ', '-')}"
  {columns}
  {rows}
  rowKey={(row) => String(row.index)}
  testid="workings-series"
  class="text-[11.5px] [--table-ground:var(--sheet)]"
/>
