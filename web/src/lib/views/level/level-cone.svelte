<!-- How realized volatility has spread by length of time, and implied volatility of each expiry on it. -->
<script lang="ts">
  import { scaleLinear, scaleLog } from 'd3-scale';
  import { area, line } from 'd3-shape';
  import ChartFrame from '$lib/ui/chart-frame.svelte';
  import Readout, { type Read } from '$lib/ui/readout.svelte';
  import { CHART_FONT } from '$lib/ui/chart';
  import { expiryColor, type Palette } from '$lib/ui/palette';
  import { svgPicture } from '$lib/ui/svg-picture';
  import { dateText, volatilityText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import type { ConeRow, Level } from '$lib/api/level';

  interface Props {
    level: Level;
    /** Dates of the expiries that are shown */
    shown: readonly string[];
    palette: Palette;
  }
  let { level, shown, palette }: Props = $props();
  const MARGIN = { left: 40, right: 12, top: 20, bottom: 34 };
  let width = $state(440);
  let height = $state(220);
  let drawing = $state<SVGSVGElement>();
  let pointed = $state<number>();
  const cone = $derived(level.cone);
  const points = $derived(level.expiries.filter((e) => e.atm !== null && e.sessions >= 1 && shown.includes(e.date)));
  const longest = $derived(Math.max(...cone.map((c) => c.days), 10));
  const x = $derived(
    scaleLog()
      .domain([Math.min(5, ...points.map((p) => p.sessions)), Math.max(longest, ...points.map((p) => p.sessions))])
      .range([MARGIN.left, Math.max(MARGIN.left + 10, width - MARGIN.right)]),
  );
  const values = $derived([...cone.flatMap((c) => [c.min, c.max]), ...points.map((p) => p.atm ?? 0)]);
  const y = $derived(
    scaleLinear()
      .domain([Math.min(...values), Math.max(...values)])
      .nice(4)
      .range([Math.max(MARGIN.top + 10, height - MARGIN.bottom), MARGIN.top]),
  );
  const bandOf = (low: (c: ConeRow) => number, high: (c: ConeRow) => number) =>
    area<ConeRow>()
      .x((c) => x(c.days))
      .y0((c) => y(low(c)))
      .y1((c) => y(high(c)))([...cone]) ?? '';
  const lineOf = (of: (c: ConeRow) => number) =>
    line<ConeRow>()
      .x((c) => x(c.days))
      .y((c) => y(of(c)))([...cone]) ?? '';
  const marks: [sessions: number, text: string][] = [
    [5, '1 w'],
    [21, '1 m'],
    [63, '3 m'],
    [126, '6 m'],
    [252, '1 y'],
    [504, '2 y'],
  ];
  const ticks = $derived(y.ticks(4));
  const words = $derived(tickText(ticks.map((t) => t * 100)));
  const read = $derived.by((): Read | undefined => {
    if (pointed === undefined || cone.length === 0) return undefined;
    const pointer = pointed;
    const at = x.invert(pointer);
    const nearest = cone.reduce((a, b) => (Math.abs(Math.log(b.days / at)) < Math.abs(Math.log(a.days / at)) ? b : a));
    const row = (name: string, value: number, color = 'transparent') => ({
      name,
      text: `${volatilityText(value)} %`,
      color,
    });
    const near = points.filter((p) => Math.abs(x(p.sessions) - pointer) < 12);
    return {
      at: x(nearest.days),
      title: `${nearest.days} sessions, ${nearest.windows} windows, ${nearest.independent} apart`,
      rows: [
        row('highest', nearest.max),
        row('90 %', nearest.p90),
        row('75 %', nearest.p75),
        row('middle', nearest.p50, palette.realized),
        row('25 %', nearest.p25),
        row('10 %', nearest.p10),
        row('lowest', nearest.min),
        ...near.map((p) => row(`implied ${dateText(p.date, level.asOf)}`, p.atm ?? NaN, expiryColor(p.days, palette))),
      ],
    };
  });
  const table = () => ({
    header: ['sessions', 'min', 'p10', 'p25', 'p50', 'p75', 'p90', 'max', 'windows', 'independent'],
    rows: cone.map((c) => [c.days, c.min, c.p10, c.p25, c.p50, c.p75, c.p90, c.max, c.windows, c.independent]),
  });
  const description = $derived(
    cone.length === 0
      ? 'Too few sessions for a spread by length of time.'
      : cone.map((c) => `${c.days} sessions: ${volatilityText(c.p10)} to ${volatilityText(c.p90)} %`).join('; '),
  );
</script>

<ChartFrame
  label="Realized by length of time"
  {description}
  {table}
  picture={(format) => svgPicture(drawing, format, { width, height })}
>
  <div class="absolute inset-0" bind:clientWidth={width} bind:clientHeight={height}>
    {#if cone.length === 0}
      <p class="quiet pt-8 font-serif text-[14px]">
        A spread needs eight windows that do not overlap: forty sessions for the week.
      </p>
    {:else}
      <svg
        bind:this={drawing}
        {width}
        {height}
        xmlns="http://www.w3.org/2000/svg"
        font-family={CHART_FONT}
        font-size="11.5"
        role="presentation"
        data-ready="true"
        onpointermove={(event) => (pointed = event.offsetX)}
        onpointerleave={() => (pointed = undefined)}
      >
        <text x="2" y="12" fill={palette.soft}>%</text>
        {#each ticks as tick (tick)}
          <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(tick)} y2={y(tick)} stroke={palette.hair} />
          <text x={MARGIN.left - 6} y={y(tick) + 4} text-anchor="end" fill={palette.soft}>{words(tick * 100)}</text>
        {/each}
        <path
          d={bandOf(
            (c) => c.p10,
            (c) => c.p90,
          )}
          fill={palette.realized}
          fill-opacity="0.14"
        />
        <path
          d={bandOf(
            (c) => c.p25,
            (c) => c.p75,
          )}
          fill={palette.realized}
          fill-opacity="0.2"
        />
        <path d={lineOf((c) => c.p50)} fill="none" stroke={palette.realized} stroke-width="1.4" />
        <path d={lineOf((c) => c.min)} fill="none" stroke={palette.realized} stroke-dasharray="2 3" />
        <path d={lineOf((c) => c.max)} fill="none" stroke={palette.realized} stroke-dasharray="2 3" />
        {#each points as p (p.date)}
          <circle
            cx={x(p.sessions)}
            cy={y(p.atm ?? 0)}
            r="4"
            fill={expiryColor(p.days, palette)}
            stroke={palette.paper}
            data-expiry={p.date}
          />
        {/each}
        {#each marks as [sessions, text] (sessions)}
          {#if sessions >= x.domain()[0] && sessions <= x.domain()[1]}
            <line x1={x(sessions)} x2={x(sessions)} y1={y.range()[0]} y2={y.range()[0] + 4} stroke={palette.faint} />
            <text x={x(sessions)} y={y.range()[0] + 17} text-anchor="middle" fill={palette.soft}>{text}</text>
          {/if}
        {/each}
      </svg>
    {/if}
  </div>
  {#if read}<Readout {read} {width} top={MARGIN.top} bottom={MARGIN.bottom} />{/if}
</ChartFrame>
