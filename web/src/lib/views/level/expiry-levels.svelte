<!-- High and low by expiry: implied against realized over as long, against the forecast, and among past windows. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { figureId, pastFigure } from '$lib/measures';
  import { HIGH_RATIO, LOW_RATIO } from './level-reading';
  import { dateText, daysText, numberText, pointsText, volatilityText } from '$lib/ui/format';
  import type { Level, LevelExpiry } from '$lib/api/level';

  interface Props {
    level: Level;
    shown: readonly string[];
    focus: string | undefined;
  }
  let { level, shown, focus }: Props = $props();
  const rows = $derived(level.expiries.filter((e) => shown.includes(e.date)).sort((a, b) => a.days - b.days));
  /** A triangle and the word, in ink. */
  const verdict = ({ ratio }: LevelExpiry) =>
    ratio === null ? '—' : ratio > HIGH_RATIO ? '▲ high' : ratio < LOW_RATIO ? '▼ low' : 'between';
  const gap = ({ atm, forecast }: LevelExpiry) => (atm === null || forecast === null ? null : atm - forecast);
  const columns = $derived<TableColumn<LevelExpiry>[]>([
    {
      id: 'expiry',
      head: 'expiry',
      isFixed: true,
      width: 66,
      align: 'left',
      value: (e) => e.date,
      text: (e) => dateText(e.date, level.asOf),
    },
    { id: 'days', head: 'days', width: 38, value: (e) => e.days, text: (e) => daysText(e.days) },
    {
      id: 'atm',
      head: 'implied %',
      width: 60,
      definition: 'At the money.',
      value: (e) => e.atm,
      text: (e) => volatilityText(e.atm),
      tone: () => 'text-implied',
      figure: (e) => figureId('atm', e.date),
    },
    {
      id: 'realized',
      head: 'realized %',
      width: 62,
      definition: 'Over as many sessions as are left, by the estimator that is chosen.',
      value: (e) => e.realized,
      text: (e) => volatilityText(e.realized),
      tone: () => 'text-realized',
    },
    {
      id: 'ratio',
      head: 'ratio',
      width: 40,
      definition: 'Implied over realized over as long.',
      value: (e) => e.ratio,
      text: (e) => numberText(e.ratio, 2),
      figure: (e) => pastFigure('expiryRatio', e.date),
    },
    {
      id: 'verdict',
      head: 'by ratio',
      width: 62,
      align: 'left',
      definition: 'By common practice: high above a ratio of 1.15, low below 1, whatever is usual for the underlying.',
      value: verdict,
      text: verdict,
    },
    {
      id: 'forecast',
      head: 'HAR %',
      width: 46,
      definition: 'Expected to the expiry by HAR.',
      value: (e) => e.forecast,
      text: (e) => volatilityText(e.forecast),
      figure: (e) => pastFigure('forecast', e.date),
    },
    {
      id: 'gap',
      head: 'over it',
      width: 48,
      definition: 'Implied less the forecast, in points.',
      value: gap,
      text: (e) => pointsText(gap(e)),
    },
    {
      id: 'coneShare',
      head: 'of windows',
      width: 60,
      definition: 'Share of past windows of that length with a lower realized volatility.',
      value: (e) => e.coneShare,
      text: (e) => (e.coneShare === null ? '—' : `${numberText(e.coneShare * 100, 0)} %`),
      figure: (e) => pastFigure('coneShare', e.date),
    },
  ]);
</script>

<ValueTable
  name="{level.symbol} level by expiry"
  storage="level-expiry-columns"
  {columns}
  {rows}
  rowKey={(e) => e.date}
  rowTone={(e) => (e.date === focus ? 'font-semibold' : '')}
  testid="level-expiries"
  class="text-[12.5px]"
/>
{#if rows.length === 0}<p class="quiet">No expiry is shown.</p>{/if}
