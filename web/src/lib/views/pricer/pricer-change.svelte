<!-- What changed since the pin, by cause; the parts add up to the whole. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { CHANGE_CAUSES, type ChangeCause } from '@umwelt/core/whatif';
  import { numberText, signedText } from '$lib/ui/format';
  import { type ChangeFigure, changeFigureId, changeValue } from '$lib/measures';
  import type { PricerFigures } from '$lib/theory';
  import { pricerState } from './pricer-state.svelte';

  interface Props {
    shown: PricerFigures;
  }
  let { shown }: Props = $props();
  const pricer = pricerState();
  const words: Record<ChangeCause, string> = {
    delta: 'delta × move',
    gamma: 'gamma × move² / 2',
    theta: 'theta × days gone',
    vega: 'vega × volatility',
    rho: 'rho × rate',
    dividend: 'yield and dividends',
    contract: 'another contract',
    rest: 'rest',
  };
  const { pinned } = $derived(pricer);
  const { change } = $derived(shown);
  const decimals = $derived(pricer.valueDecimals);
  interface Row {
    id: ChangeFigure;
    label: string;
    value: number;
    kind: 'state' | 'part' | 'total';
  }
  const rows = $derived.by((): Row[] => {
    const states = pricer.changeStates;
    if (!states) return [];
    // The pinned position is counted at its own size, and the change of size is told apart.
    const row = (id: ChangeFigure, label: string, kind: Row['kind']): Row => ({
      id,
      label,
      value: changeValue(id, states),
      kind,
    });
    const causes = CHANGE_CAUSES.filter((cause) => states.change.parts[cause] !== 0);
    const size = row('size', 'size', 'part');
    return [
      row('from', `pinned ${states.pinned.side}`, 'state'),
      ...causes.map((cause) => row(cause, words[cause], 'part')),
      ...(size.value === 0 ? [] : [size]),
      row('change', 'change', 'total'),
      row('to', 'now', 'total'),
    ];
  });
  const columns: TableColumn<Row>[] = [
    {
      id: 'cause',
      head: 'cause',
      isFixed: true,
      align: 'left',
      value: (row) => row.id,
      text: (row) => row.label,
      tone: (row) => (row.kind === 'total' ? '' : 'quiet'),
    },
    {
      id: 'value',
      head: 'value',
      width: 110,
      value: (row) => row.value,
      figure: (row) => changeFigureId(row.id),
      text: (row) =>
        row.kind === 'state' || row.id === 'to' ? numberText(row.value, decimals) : signedText(row.value, decimals),
      tone: (row) => (row.kind === 'part' ? (row.value < 0 ? 'text-loss' : 'text-gain') : ''),
    },
  ];
</script>

{#if pinned && change}
  <section class="mt-5" aria-label="Since the pin">
    <h2 class="small-caps mb-1">Since the pin</h2>
    <ValueTable
      name="Pricer change by cause"
      storage="change-columns"
      {columns}
      {rows}
      rowKey={(row) => row.id}
      isOrdered
      rowTone={(row) => (row.kind === 'total' ? 'border-t-line border-t font-semibold' : '')}
      testid="change"
      class="text-[12.5px] [--table-ground:var(--sheet)]"
    />
  </section>
{/if}
