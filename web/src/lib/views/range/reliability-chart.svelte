<!-- Chances that the smile told against how often they came true. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import SvgChart from '$lib/ui/svg-chart.svelte';
  import { numberText } from '$lib/ui/format';
  import type { OddsRecord } from '$lib/api/odds-record';
  import type { Palette } from '$lib/ui/palette';

  interface Props {
    record: OddsRecord;
    palette: Palette;
  }
  let { record, palette }: Props = $props();
  const MARGIN = { left: 44, right: 110, top: 22, bottom: 30 };
  const MARKS = [0, 0.25, 0.5, 0.75, 1];
  let width = $state(380);
  let height = $state(170);
  const bins = $derived(
    record.reliability.flatMap(({ told, came, count }) =>
      told === null || came === null ? [] : [{ told, came, count }],
    ),
  );
  const x = $derived(
    scaleLinear()
      .domain([0, 1])
      .range([MARGIN.left, width - MARGIN.right]),
  );
  const y = $derived(
    scaleLinear()
      .domain([0, 1])
      .range([height - MARGIN.bottom, MARGIN.top]),
  );
  const most = $derived(Math.max(...bins.map((b) => b.count), 1));
  const table = () => ({ header: ['told', 'came', 'count'], rows: bins.map((b) => [b.told, b.came, b.count]) });
</script>

<SvgChart
  label="Told against came, {record.days} days"
  description={bins
    .map((b) => `told ${numberText(b.told * 100, 0)} %, came ${numberText(b.came * 100, 0)} % of ${b.count}`)
    .join('; ')}
  {table}
  bind:width
  bind:height
>
  <text x="2" y="12" fill={palette.soft}>came true, % of what the smile told</text>
  {#each MARKS as mark (mark)}
    <line x1={x(0)} x2={x(1)} y1={y(mark)} y2={y(mark)} stroke={palette.hair} />
    <text x={x(0) - 6} y={y(mark) + 4} text-anchor="end" fill={palette.soft}>{Math.round(100 * mark)}</text>
    <text x={x(mark)} y={height - 12} text-anchor="middle" fill={palette.soft}>{Math.round(100 * mark)}</text>
  {/each}
  <line x1={x(0)} x2={x(1)} y1={y(0)} y2={y(1)} stroke={palette.faint} stroke-dasharray="3 3" />
  <text x={x(1) + 6} y={y(1) + 4} fill={palette.soft}>as told</text>
  {#each bins as bin (bin.told)}
    <circle
      cx={x(bin.told)}
      cy={y(bin.came)}
      r={2.5 + 4 * Math.sqrt(bin.count / most)}
      fill={palette.implied}
      fill-opacity="0.75"
    />
  {/each}
</SvgChart>
