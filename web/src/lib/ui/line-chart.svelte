<!-- A chart that follows a hand, drawn as SVG. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';
  import SvgChart from './svg-chart.svelte';
  import ValueLines from './value-lines.svelte';
  import Readout, { type Read } from './readout.svelte';
  import { labelColumn } from './label-column';
  import { type ChartLine, type LineChart, lineChartTable, rangeUp } from './line-chart';
  import { tickText } from './tick-text';
  import type { Palette } from './palette';

  interface Props {
    chart: LineChart;
    label: string;
    palette: Palette;
  }
  let { chart, label, palette }: Props = $props();
  const LETTER = 6.6;
  /** Narrower than this, pixels, names stand over the ends of their lines instead of behind them. */
  const NARROW = 460;
  const LABEL = 14;
  let width = $state(600);
  let height = $state(300);
  let pointed = $state<number>();

  const names = $derived(chart.lines.map((l) => l.name));
  const isNarrow = $derived(width < NARROW);
  /** Names over the beginnings of their lines, where those end together. */
  const isOver = $derived(chart.namesAt === 'start');
  const margin = $derived({
    ...{ left: 62, top: 26, bottom: 40 },
    right: 16 + (isNarrow || isOver ? 0 : LETTER * Math.max(0, ...names.map((n) => n.length))),
  });
  const x = $derived(
    scaleLinear()
      .domain(chart.across.range)
      .range([margin.left, Math.max(margin.left + 1, width - margin.right)]),
  );
  const y = $derived(
    scaleLinear()
      .domain(rangeUp(chart))
      .nice(6)
      .range([Math.max(margin.top + 1, height - margin.bottom), margin.top]),
  );
  const upTicks = $derived(y.ticks(Math.max(2, Math.min(6, (height - 66) / 34))));
  const upText = $derived(tickText(upTicks));
  const acrossTicks = $derived(x.ticks(Math.max(2, Math.min(8, width / 80))));
  const acrossText = $derived(tickText(acrossTicks));
  const pathOf = (l: ChartLine) =>
    line<number | null>()
      .defined((v) => v !== null && Number.isFinite(v))
      .x((_, i) => x(l.x[i]))
      .y((v) => y(v ?? 0))(l.y) ?? '';
  const areas = $derived(
    (chart.bands ?? []).map((b) => ({
      ...b,
      path:
        area<number>()
          .x((_, i) => x(b.x[i]))
          .y0((_, i) => y(b.low[i]))
          .y1((v) => y(v))(b.high) ?? '',
    })),
  );
  /** Names at the ends of their lines, none over another. */
  const ends = $derived.by(() => {
    const last = chart.lines.flatMap((l) => {
      const isDrawn = (v: number | null) => v !== null && Number.isFinite(v);
      const at = isOver ? l.y.findIndex(isDrawn) : l.y.findLastIndex(isDrawn);
      return at < 0
        ? []
        : [{ name: l.name, color: l.color, x: x(l.x[at]), wanted: y(l.y[at] ?? 0) - (isOver ? 10 : 0) }];
    });
    last.sort((a, b) => a.wanted - b.wanted);
    const heights = labelColumn(
      last.map((e) => e.wanted),
      LABEL,
      [margin.top, height - margin.bottom],
    );
    return last.map((e, i) => ({ ...e, y: heights[i] }));
  });
  const read = $derived.by((): Read | undefined => {
    if (pointed === undefined) return undefined;
    const value = x.invert(pointed);
    const rows = chart.lines.flatMap((l) => {
      const at = nearest(l.x, value);
      const there = l.y[at];
      return there == null ? [] : [{ name: l.name, color: l.color, text: chart.up.text(there), x: l.x[at] }];
    });
    if (rows.length === 0) return undefined;
    return { at: x(rows[0].x), title: chart.across.text(rows[0].x), rows };
  });

  function nearest(places: readonly number[], value: number): number {
    return places.reduce((best, p, i) => (Math.abs(p - value) < Math.abs(places[best] - value) ? i : best), 0);
  }

  function point(event: PointerEvent): void {
    const [from, to] = x.range();
    pointed = event.offsetX >= from - 8 && event.offsetX <= to + 8 ? event.offsetX : undefined;
  }
</script>

<SvgChart
  {label}
  description={chart.description}
  table={() => lineChartTable(chart)}
  bind:width
  bind:height
  onpointermove={point}
  onpointerleave={() => (pointed = undefined)}
>
  <text x="8" y="14" fill={palette.soft}>{chart.up.title}</text>
  <ValueLines ticks={upTicks} {y} from={x.range()[0]} to={x.range()[1]} text={upText} {palette} />
  {#each acrossTicks as tick (tick)}
    <line x1={x(tick)} x2={x(tick)} y1={y.range()[0]} y2={y.range()[0] + 4} stroke={palette.faint} />
    <text x={x(tick)} y={y.range()[0] + 17} text-anchor="middle" fill={palette.soft}>{acrossText(tick)}</text>
  {/each}
  <text x={(x.range()[0] + x.range()[1]) / 2} y={height - 6} text-anchor="middle" fill={palette.soft}
    >{chart.across.title}</text
  >
  <line x1={x.range()[0]} x2={x.range()[1]} y1={y.range()[0]} y2={y.range()[0]} stroke={palette.faint} />
  {#each chart.uprights ?? [] as upright (upright)}
    {#if upright.x >= x.domain()[0] && upright.x <= x.domain()[1]}
      <line
        x1={x(upright.x)}
        x2={x(upright.x)}
        y1={margin.top}
        y2={y.range()[0]}
        stroke={upright.color}
        stroke-dasharray="2 3"
      />
      {#if upright.name}
        <text x={x(upright.x)} y={margin.top - 6} text-anchor="middle" fill={palette.soft}>{upright.name}</text>
      {/if}
    {/if}
  {/each}
  {#each areas as band (band)}<path d={band.path} fill={band.color} fill-opacity={band.opacity} />{/each}
  {#each chart.lines as l (l.name)}
    <path d={pathOf(l)} fill="none" stroke={l.color} stroke-width={l.width} stroke-dasharray={l.dash} />
  {/each}
  {#if chart.mark}
    {@const { mark } = chart}
    <path
      d="M{x(mark.x)},{y(mark.y) - 6}l6,6l-6,6l-6,-6z"
      fill={mark.color}
      stroke={palette.paper}
      data-testid="chart-mark"
    />
  {/if}
  {#each ends as end (end.name)}
    {#if !isOver && !isNarrow && Math.abs(end.y - end.wanted) > LABEL / 2}
      <line x1={end.x + 1} x2={end.x + 7} y1={end.wanted} y2={end.y} stroke={palette.faint} />
    {/if}
    {@const isBefore = isNarrow && !isOver}
    <text
      x={isBefore ? Math.max(end.x, margin.left + LETTER * end.name.length) : end.x + 9}
      y={isBefore ? end.y - 8 : end.y + 4}
      text-anchor={isBefore ? 'end' : 'start'}
      fill={palette.ink}
      stroke={palette.paper}
      stroke-width="3"
      paint-order="stroke">{end.name}</text
    >
  {/each}
  {#snippet over()}
    {#if read}<Readout {read} {width} top={margin.top} bottom={margin.bottom} />{/if}
  {/snippet}
</SvgChart>
