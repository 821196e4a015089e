<!-- What changed since the pin, by cause; the parts add up to the whole. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { CHANGE_CAUSES, type ChangeCause, GREEK_CAUSES } from '@umwelt/core/whatif';
  import {
    CHANGED_GREEKS,
    type ChangedGreek,
    type ChangeFigure,
    changeFigureId,
    changeValue,
    figureText,
    GREEK_CAUSE_WORDS,
    type GreekChangeFigure,
    greekChangeFigureId,
    greekChangeValue,
    pricerMeasure,
  } from '$lib/measures';
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
  interface Row {
    key: string;
    /** Figure that the value opens */
    id: string;
    label: string;
    value: number;
    kind: 'state' | 'part' | 'total';
  }
  const of = $derived(pricer.settings.changeOf);
  const rows = $derived(of === 'value' ? valueRows() : greekRows(of));
  function valueRows(): Row[] {
    const states = pricer.changeStates;
    if (!states) return [];
    // The pinned position is counted at its own size, and the change of size is told apart.
    const row = (id: ChangeFigure, label: string, kind: Row['kind']): Row => ({
      key: id,
      id: changeFigureId(id),
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
  }
  function greekRows(greek: ChangedGreek): Row[] {
    const states = pricer.greekChangeStates;
    if (!states) return [];
    const row = (id: GreekChangeFigure, label: string, kind: Row['kind']): Row => ({
      key: id,
      id: greekChangeFigureId(greek, id),
      label,
      value: greekChangeValue(greek, id, states),
      kind,
    });
    const causes = GREEK_CAUSES.filter((cause) => states.greekChange.parts[greek][cause] !== 0);
    const size = row('size', 'size', 'part');
    return [
      row('from', `pinned ${states.pinned.side}`, 'state'),
      ...causes.map((cause) => row(cause, GREEK_CAUSE_WORDS[cause], 'part')),
      ...(size.value === 0 ? [] : [size]),
      row('change', 'change', 'total'),
      row('to', 'now', 'total'),
    ];
  }
  const unit = $derived(of === 'value' ? 'premium' : (pricerMeasure(of)?.unit ?? 'greek'));
  const written = (row: Row) => {
    const text = figureText(row.value, unit, pricer.scale);
    const isSigned = row.kind === 'part' || row.key === 'change';
    return isSigned && row.value > 0 && !text.startsWith('+') && /[1-9]/.test(text) ? `+${text}` : text;
  };
  const columns: TableColumn<Row>[] = $derived([
    {
      id: 'cause',
      head: 'cause',
      isFixed: true,
      align: 'left',
      value: (row) => row.key,
      text: (row) => row.label,
      tone: (row) => (row.kind === 'total' ? '' : 'quiet'),
    },
    {
      id: 'value',
      head: of,
      width: 110,
      value: (row) => row.value,
      figure: (row) => row.id,
      text: written,
      tone: (row) => (row.kind === 'part' ? (row.value < 0 ? 'text-loss' : 'text-gain') : ''),
    },
  ]);
</script>

{#if pinned && change}
  <section class="mt-5" aria-label="Since the pin">
    <div class="mb-1 flex items-baseline justify-between">
      <h2 class="small-caps">Since the pin</h2>
      <select
        class="plain text-[12px]"
        aria-label="Whose change is split"
        value={of}
        onchange={(event) => pricer.choose({ changeOf: event.currentTarget.value as typeof of })}
      >
        {#each ['value', ...CHANGED_GREEKS] as name (name)}<option value={name}>{name}</option>{/each}
      </select>
    </div>
    <ValueTable
      name="Pricer change by cause"
      storage="change-columns"
      {columns}
      {rows}
      rowKey={(row) => row.key}
      isOrdered
      rowTone={(row) => (row.kind === 'total' ? 'border-t-line border-t font-semibold' : '')}
      testid="change"
      class="text-[12.5px] [--table-ground:var(--sheet)]"
    />
  </section>
{/if}
