<!-- What came after each implied reading, by where it stood in its past. -->
<script lang="ts">
  import ValueTable from '$lib/shell/value-table.svelte';
  import type { TableColumn } from '$lib/ui/table/table-column';
  import { pastFigure } from '$lib/measures';
  import { pointsText, numberText } from '$lib/ui/format';
  import type { Level, LevelBand } from '$lib/api/level';

  interface Props {
    level: Level;
  }
  let { level }: Props = $props();
  type Row = LevelBand & { index: number };
  const rows = $derived(level.bands.map((band, index): Row => ({ ...band, index })));
  const now = $derived(level.place?.percentile);
  const isNow = (b: Row) => now !== undefined && now >= b.from && (now < b.to || b.to === 1);
  const share = (v: number | null) => (v === null ? '—' : `${numberText(v * 100, 0)} %`);
  const tone = (v: number | null) => (v === null ? '' : v < 0 ? 'text-loss' : '');
  const columns: TableColumn<Row>[] = [
    {
      id: 'band',
      head: 'percentile',
      isFixed: true,
      width: 66,
      align: 'left',
      definition: 'Where implied stood among the 252 sessions before.',
      value: (b) => b.from,
      text: (b) => `${Math.round(b.from * 100)} – ${Math.round(b.to * 100)}`,
    },
    {
      id: 'sessions',
      head: 'sessions',
      width: 54,
      definition: 'Sessions of the band whose later sessions have all come.',
      value: (b) => b.sessions,
      text: (b) => String(b.sessions),
      figure: (b) => pastFigure('sessions', b.index),
    },
    {
      id: 'independent',
      head: 'apart',
      width: 40,
      definition: 'The most of them whose later sessions do not overlap.',
      value: (b) => b.independent,
      text: (b) => String(b.independent),
      figure: (b) => pastFigure('independent', b.index),
    },
    {
      id: 'mean',
      head: 'implied − later',
      width: 86,
      definition: 'Mean of implied less what came, in points.',
      value: (b) => b.mean,
      text: (b) => pointsText(b.mean),
      tone: (b) => tone(b.mean),
      figure: (b) => pastFigure('mean', b.index),
    },
    {
      id: 'interval',
      head: '95 % interval',
      width: 96,
      definition: 'Of the mean, by blocks of sessions drawn anew.',
      value: (b) => b.interval?.[0] ?? null,
      text: (b) => (b.interval ? `${pointsText(b.interval[0])} to ${pointsText(b.interval[1])}` : '—'),
    },
    {
      id: 'median',
      head: 'median',
      width: 52,
      definition: 'Middle of the sessions of the band, in points.',
      value: (b) => b.median,
      text: (b) => pointsText(b.median),
      tone: (b) => tone(b.median),
      figure: (b) => pastFigure('median', b.index),
    },
    {
      id: 'worst',
      head: 'worst',
      width: 50,
      definition: 'Least of the sessions of the band, in points.',
      value: (b) => b.worst,
      text: (b) => pointsText(b.worst),
      tone: (b) => tone(b.worst),
      figure: (b) => pastFigure('worst', b.index),
    },
    {
      id: 'positive',
      head: 'above',
      width: 50,
      definition: 'Share of the sessions in which implied was above what came.',
      value: (b) => b.positive,
      text: (b) => share(b.positive),
      figure: (b) => pastFigure('positive', b.index),
    },
  ];
</script>

<ValueTable
  name="{level.symbol} what came after"
  storage="after-columns"
  {columns}
  {rows}
  rowKey={(b) => String(b.index)}
  rowTone={(b) => (isNow(b) ? 'font-semibold' : '')}
  testid="after"
  class="text-[12.5px]"
/>
{#if rows.every((b) => b.sessions === 0)}
  <p class="quiet mt-1 text-[12.5px]">
    A reading needs 63 sessions of implied volatility before it, and {level.horizon} of daily bars after it.
  </p>
{/if}
