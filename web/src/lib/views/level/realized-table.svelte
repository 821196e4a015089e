<!-- Realized volatility by estimator over a month and a quarter, and jumps within sessions. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { numberText, volatilityText } from '$lib/ui/format';
  import type { Level } from '$lib/api/level';
  import { ESTIMATOR_NAMES } from './level-words';

  interface Props {
    level: Level;
  }
  let { level }: Props = $props();
  type Row = Level['realized'][number];
  const error = ({ standardError }: Row) => (standardError === null ? '—' : `± ${numberText(standardError * 100, 1)}`);
  const columns: TableColumn<Row>[] = [
    {
      id: 'estimator',
      head: 'estimator',
      isFixed: true,
      least: 130,
      align: 'left',
      value: (r) => ESTIMATOR_NAMES[r.estimator],
      text: (r) => ESTIMATOR_NAMES[r.estimator],
    },
    {
      id: 'window',
      head: 'sessions',
      width: 62,
      value: (r) => r.window,
      text: (r) => (r.estimator === 'ewma' ? 'all' : String(r.window)),
    },
    {
      id: 'volatility',
      head: 'realized %',
      width: 70,
      value: (r) => r.volatility,
      text: (r) => volatilityText(r.volatility),
      tone: () => 'text-realized',
    },
    { id: 'error', head: 'error', width: 60, value: (r) => r.standardError, text: error },
  ];
</script>

<ValueTable
  name="{level.symbol} realized"
  storage="realized-columns"
  {columns}
  rows={level.realized}
  rowKey={(r) => `${r.estimator} ${r.window}`}
  testid="realized"
  class="text-[12.5px]"
/>
{#if level.jumps}
  <p class="quiet mt-1 text-[12px]">
    Bars within the last {level.jumps.sessions} sessions: {volatilityText(level.jumps.volatility)} % without the nights.
  </p>
{/if}
