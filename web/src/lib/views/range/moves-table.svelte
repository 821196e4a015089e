<!-- Expected moves by expiry: in price, in percent and as levels, each with how often the smile says it holds. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { rangeFigure } from '$lib/measures';
  import { dateText, daysText, numberText, probabilityText, strikeText } from '$lib/ui/format';
  import type { MoveChoice, RangeExpiry } from '$lib/api/range';
  import { toldMove } from '$lib/theory';

  interface Props {
    symbol: string;
    asOf: string;
    ranges: readonly RangeExpiry[];
    /** By a day on which nothing expires */
    between: RangeExpiry | undefined;
    choice: MoveChoice;
    focus: string | undefined;
    decimals: number;
  }
  let { symbol, asOf, ranges, between, choice, focus, decimals }: Props = $props();
  interface Row extends RangeExpiry {
    isListed: boolean;
  }
  const rows = $derived(
    [...ranges.map((r) => ({ ...r, isListed: true })), ...(between ? [{ ...between, isListed: false }] : [])].sort(
      (a, b) => a.days - b.days,
    ),
  );
  const of = (r: RangeExpiry) => toldMove(r, choice);
  const percent = (r: RangeExpiry) => {
    const move = of(r);
    if (!move) return null;
    return (100 * (move.high - move.low)) / 2 / r.forward;
  };
  const price = (value: number | null | undefined) => numberText(value, decimals);
  const listed = ([below, above]: readonly [number | null, number | null]) =>
    below === above
      ? below === null
        ? '—'
        : strikeText(below)
      : `${below === null ? '—' : strikeText(below)} · ${above === null ? '—' : strikeText(above)}`;
  const around = (end: 'low' | 'high') => (r: RangeExpiry) =>
    choice === 'range' && r.ranges.length > 0 ? r.ranges[0][`${end}Listed`] : ([null, null] as const);
  const columns = $derived<TableColumn<Row>[]>([
    {
      id: 'expiry',
      head: 'expiry',
      isFixed: true,
      width: 66,
      align: 'left',
      value: (r) => r.date,
      text: (r) => dateText(r.date, asOf),
    },
    { id: 'days', head: 'days', width: 40, value: (r) => r.days, text: (r) => daysText(r.days) },
    {
      id: 'move',
      head: choice === 'range' ? '± half' : '± move',
      width: 58,
      definition: 'From the forward to either side, price; of a range half its width.',
      value: (r) => {
        const move = of(r);
        return move && (move.high - move.low) / 2;
      },
      text: (r) => {
        const move = of(r);
        return price(move && (move.high - move.low) / 2);
      },
      figure: (r) => (r.isListed ? rangeFigure(choice === 'range' ? 'low' : choice, r.date) : undefined),
    },
    { id: 'percent', head: '%', width: 40, value: percent, text: (r) => numberText(percent(r), 1) },
    {
      id: 'low',
      head: 'low',
      width: 62,
      value: (r) => of(r)?.low ?? null,
      text: (r) => price(of(r)?.low),
      ...(choice === 'range' ? { figure: (r: Row) => (r.isListed ? rangeFigure('low', r.date) : undefined) } : {}),
    },
    {
      id: 'high',
      head: 'high',
      width: 62,
      value: (r) => of(r)?.high ?? null,
      text: (r) => price(of(r)?.high),
      ...(choice === 'range' ? { figure: (r: Row) => (r.isListed ? rangeFigure('high', r.date) : undefined) } : {}),
    },
    {
      id: 'coverage',
      head: 'holds',
      width: 46,
      definition: 'How often the price ends within it, by the law of the smile.',
      value: (r) => of(r)?.coverage ?? null,
      text: (r) => probabilityText(of(r)?.coverage),
    },
    {
      id: 'daily',
      head: 'a session',
      width: 58,
      isExtra: true,
      definition: 'One standard deviation of one session, price.',
      value: (r) => r.dailyMove,
      text: (r) => price(r.dailyMove),
      figure: (r) => (r.isListed ? rangeFigure('dailyMove', r.date) : undefined),
    },
    {
      id: 'lowListed',
      head: 'strikes at low',
      width: 92,
      isExtra: true,
      definition: 'Listed next below and above the lower end of the range.',
      value: (r) => around('low')(r)[0],
      text: (r) => listed(around('low')(r)),
    },
    {
      id: 'highListed',
      head: 'strikes at high',
      width: 92,
      isExtra: true,
      definition: 'Listed next below and above the upper end of the range.',
      value: (r) => around('high')(r)[0],
      text: (r) => listed(around('high')(r)),
    },
  ]);
</script>

<ValueTable
  name="{symbol} expected moves"
  storage="range-moves-columns"
  {columns}
  {rows}
  rowKey={(r) => (r.isListed ? r.date : `between ${r.date}`)}
  rowTone={(r) => (!r.isListed ? 'text-own' : r.date === focus ? 'font-semibold' : '')}
  testid="expected-moves"
  class="text-[12.5px]"
/>
{#if ranges.length === 0}<p class="quiet">No expiry is shown.</p>{/if}
