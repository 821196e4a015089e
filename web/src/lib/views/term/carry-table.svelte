<!-- What stands behind the forwards of American options: financing, borrow and dividends, known or implied. -->
<script lang="ts">
  import CarryTakeover from '$lib/shell/carry-takeover.svelte';
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { dateText, numberText, signedText } from '$lib/ui/format';
  import { CARRY_SOURCES, figureId } from '$lib/measures';
  import { viewState } from '$lib/shell/view-state.svelte';

  const view = viewState();
  const carry = $derived(view.picture.carry);
  const inferred = $derived(carry.inferred);
  const percent = (value: number) => numberText(100 * value, 2);

  interface Row {
    id: string;
    label: string;
    figure: string;
    value: number;
    error: number;
    unit: 'of one a year' | 'cash';
    when: string;
    isDoubtful: boolean;
  }
  const rows = $derived.by((): Row[] => {
    if (!inferred) return [];
    const a = (name: 'financing' | 'borrow' | 'drift', label: string): Row => {
      const isDoubtful = name !== 'drift' && !inferred.areToldApart;
      return {
        id: name,
        label: isDoubtful ? `${label} (not told apart)` : label,
        figure: `implied-${name}`,
        ...inferred[name],
        unit: 'of one a year',
        when: '',
        isDoubtful,
      };
    };
    const { asOf } = view.picture;
    return [
      a('financing', inferred.hasCurve ? 'financing over the curve, % a year' : 'rate, % a year'),
      a('borrow', 'yield or cost to borrow, % a year'),
      a('drift', 'financing less borrow, % a year'),
      ...inferred.dividends.map((d): Row => ({
        id: `dividend ${d.to}`,
        label: 'dividend nobody told',
        figure: figureId('impliedDividend', d.to),
        ...d.amount,
        unit: 'cash',
        when: `${dateText(d.instant.slice(0, 10), asOf)} ± ${Math.max(1, Math.round(d.days))} d, ${d.from === null ? 'before' : `${dateText(d.from, asOf)} to`} ${dateText(d.to, asOf)}`,
        isDoubtful: false,
      })),
    ];
  });
  const columns: TableColumn<Row>[] = [
    {
      id: 'what',
      head: 'of all expiries',
      isFixed: true,
      align: 'left',
      value: (row) => row.label,
      text: (row) => row.label,
    },
    {
      id: 'implied',
      head: 'implied',
      width: 80,
      value: (row) => row.value,
      text: (row) =>
        row.unit === 'cash'
          ? numberText(row.value, 3)
          : inferred?.hasCurve
            ? signedText(100 * row.value, 2)
            : percent(row.value),
      figure: (row) => row.figure,
    },
    {
      id: 'error',
      head: '± one deviation',
      width: 104,
      value: (row) => row.error,
      text: (row) => (row.unit === 'cash' ? numberText(row.error, 3) : percent(row.error)),
    },
    {
      id: 'unit',
      head: 'unit',
      width: 90,
      align: 'left',
      isExtra: true,
      value: (row) => row.unit,
      text: (row) => row.unit,
    },
    { id: 'when', head: 'when', width: 280, align: 'left', value: (row) => row.when, text: (row) => row.when },
  ];
</script>

{#if inferred || carry.taken || carry.source === 'typed'}
  <section class="border-line mt-3 border-t pt-2 text-[12.5px]" data-testid="carry" aria-label="Carry">
    <p>
      <span class="small-caps">carry</span>
      <span class="quiet">{CARRY_SOURCES[carry.source]}</span>
    </p>
    {#if inferred}
      <ValueTable
        name="{view.picture.underlying.symbol} carry"
        storage="carry-table-columns"
        {columns}
        {rows}
        rowKey={(row) => row.id}
        context={{ symbol: view.picture.underlying.symbol, asOf: view.picture.asOf }}
        isOrdered
        rowTone={(row) => (row.isDoubtful ? 'quiet' : '')}
        testid="carry-table"
        class="mt-1"
      />
    {/if}
    <CarryTakeover />
  </section>
{/if}
