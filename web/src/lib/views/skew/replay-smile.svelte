<!-- The smile of one session over the common width, the last one's dotted behind it; a pointer reads both. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import { dateText, numberText, pointsText, volatilityText } from '$lib/ui/format';
  import type { Replay, ReplayFrame } from './replay-frames';

  interface Props {
    replay: Replay;
    frame: ReplayFrame;
    /** Whose year dates are written without */
    asOf: string;
  }
  let { replay, frame, asOf }: Props = $props();
  const MARGIN = { left: 44, right: 16, top: 22, bottom: 24 };
  let width = $state(800);
  let height = $state(320);
  let pointed = $state<number>();
  const last = $derived(replay.frames[replay.frames.length - 1]);
  const bottom = $derived(height - MARGIN.bottom);
  const x = $derived(
    scaleLinear()
      .domain([replay.logMoneyness[0] ?? -1, replay.logMoneyness[replay.logMoneyness.length - 1] ?? 1])
      .range([MARGIN.left, width - MARGIN.right]),
  );
  /** Round distances along the axis. */
  const percents = $derived(
    scaleLinear()
      .domain(x.domain().map((k) => Math.expm1(k) * 100))
      .ticks(8),
  );
  const y = $derived(scaleLinear().domain(replay.range).nice().range([bottom, MARGIN.top]));
  const curveOf = (volatility: Float64Array) =>
    line<number>()
      .defined((v) => !Number.isNaN(v))
      .x((_, i) => x(replay.logMoneyness[i]))
      .y((v) => y(v))(Array.from(volatility)) ?? '';
  const isLast = $derived(frame === last);
  const read = $derived.by(() => {
    if (pointed === undefined) return undefined;
    const places = replay.logMoneyness.length - 1;
    const [low, high] = x.domain();
    const at = Math.round(places * Math.max(0, Math.min(1, (x.invert(pointed) - low) / (high - low))));
    const [then, now] = [frame.volatility[at], last.volatility[at]];
    const known = (v: number) => (Number.isNaN(v) ? 'no quotes' : `${volatilityText(v)} %`);
    const difference = isLast || Number.isNaN(then - now) ? '' : ` (${pointsText(then - now)})`;
    return {
      at: x(replay.logMoneyness[at]),
      text:
        `${numberText(Math.expm1(replay.logMoneyness[at]) * 100, 1)} % from the forward: ${known(then)}` +
        (isLast ? '' : `, now ${known(now)}${difference}`),
    };
  });
</script>

<div class="min-h-0 grow" bind:clientWidth={width} bind:clientHeight={height}>
  <svg
    {width}
    {height}
    role="img"
    aria-label="Smile of {frame.date}, expiry {frame.expiry}"
    onpointermove={(event) => (pointed = event.offsetX)}
    onpointerleave={() => (pointed = undefined)}
  >
    <text x="0" y="12" class="chart-word fill-[var(--soft)]">implied volatility, %</text>
    {#each y.ticks(6) as tick (tick)}
      <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(tick)} y2={y(tick)} stroke="var(--hair)" />
      <text x={MARGIN.left - 6} y={y(tick) + 4} text-anchor="end" class="chart-word fill-[var(--soft)]"
        >{Math.round(tick * 100)}</text
      >
    {/each}
    {#each percents as percent (percent)}
      <text x={x(Math.log1p(percent / 100))} y={bottom + 16} text-anchor="middle" class="chart-word fill-[var(--soft)]"
        >{numberText(percent, 0)} %</text
      >
    {/each}
    <line x1={x(0)} x2={x(0)} y1={MARGIN.top} y2={bottom} stroke="var(--line)" />
    <path d={curveOf(last.volatility)} fill="none" stroke="var(--soft)" stroke-dasharray="2 3" />
    <path
      d={curveOf(frame.volatility)}
      fill="none"
      stroke="var(--implied)"
      stroke-width="2.2"
      data-testid="replay-smile"
    />
    <circle cx={x(0)} cy={y(frame.atm)} r="4" fill="var(--implied)" />
    <text x={Math.min(x(0) + 8, width - 150)} y={MARGIN.top + 2} class="chart-word fill-[var(--soft)]"
      >expiry {dateText(frame.expiry, asOf)}</text
    >
    {#if read}
      <line x1={read.at} x2={read.at} y1={MARGIN.top} y2={bottom} stroke="var(--ink)" stroke-width="0.8" />
      <text
        x={width - MARGIN.right}
        y="12"
        text-anchor="end"
        class="chart-word fill-[var(--ink)]"
        data-testid="replay-read">{read.text}</text
      >
    {/if}
  </svg>
</div>
