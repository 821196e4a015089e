<!-- Implied against realized volatility through time, where implied stands among its past, and the price with its events below. -->
<script lang="ts">
  import ChartFrame from '$lib/ui/chart-frame.svelte';
  import Readout, { type Read } from '$lib/ui/readout.svelte';
  import type { ForecastRecord, Level } from '$lib/api/level';
  import type { ForecastModel } from '@umwelt/core/volatility';
  import { CHART_FONT } from '$lib/ui/chart';
  import { labelColumn } from '$lib/ui/label-column';
  import { svgPicture } from '$lib/ui/svg-picture';
  import { countText, dateText, numberText, percentileText, pointsText, volatilityText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import type { Palette } from '$lib/ui/palette';
  import { levelTable } from './level-table';
  import { ASIDE, levelTime } from './level-time';
  import { FORECAST_NAMES } from './level-words';
  import type { LaidUnder, LevelShow } from './parameters';

  interface Props {
    level: Level;
    show: LevelShow;
    realized: 'trailing' | 'later';
    span: number;
    under: LaidUnder;
    forecast: { model: ForecastModel; record: ForecastRecord } | undefined;
    currency: string;
    decimals: number;
    palette: Palette;
  }
  let { level, show, realized, span, under, forecast, currency, decimals, palette }: Props = $props();
  let width = $state(900);
  let height = $state(420);
  let drawing = $state<SVGSVGElement>();
  let pointed = $state<number>();
  const uid = $props.id();
  const LABEL = 14;
  /** Below the ways to take the chart along, pixels. */
  const BELOW_FILES = 26;

  const chart = $derived(levelTime(level, { show, realized, span, under, forecast, width, height }));
  const last = $derived(chart.sessions.length - 1);
  /** Where the figure that is drawn stands; of what came later there is none yet. */
  const place = $derived(
    show === 'levels'
      ? level.place
      : realized === 'later'
        ? null
        : show === 'ratio'
          ? level.ratioPlace
          : level.premiumPlace,
  );
  const isRatio = $derived(show === 'ratio');
  const text = $derived((v: number) =>
    isRatio ? numberText(v, 2) : show === 'difference' ? `${pointsText(v)} pts` : `${volatilityText(v)} %`,
  );
  const titles: Record<LevelShow, string> = {
    levels: 'volatility, %',
    difference: 'implied less realized, points',
    ratio: 'implied over realized',
  };
  /** What the bars under the lines are, beside what the axis is. */
  const underWords = $derived(
    chart.under
      ? `; bars: ${under === 'volume' ? 'option volume' : 'open interest'}, most ${countText(chart.under.most)}`
      : '',
  );
  const ticks = $derived(chart.y.ticks(5));
  const tickWords = $derived(tickText(ticks.map((t) => (isRatio ? t : t * 100))));
  const priceTicks = $derived(chart.price.ticks(3));
  const priceWords = $derived(tickText(priceTicks));
  const names = $derived({
    implied: 'implied',
    realized: realized === 'later' ? 'what came' : 'realized',
    forecast: forecast ? FORECAST_NAMES[forecast.model] : '',
    difference: 'implied less realized',
    ratio: 'implied over realized',
    price: 'price',
  });
  const colors = $derived({
    implied: palette.implied,
    realized: palette.realized,
    forecast: palette.own,
    difference: palette.implied,
    ratio: palette.implied,
    price: palette.ink,
  });
  /** Names beside the lines where those stand furthest apart: the upper one's above it, the others below theirs. */
  const labels = $derived.by(() => {
    // A single line is what the axis says.
    if (chart.lines.length < 2) return [];
    const wanted = chart.lines
      .flatMap((l) => {
        // What has no value there bears its name where it ends.
        const at = l.values[chart.namesAt] === null ? l.values.findLastIndex((v) => v !== null) : chart.namesAt;
        return at < 0 ? [] : [{ id: l.id, x: chart.x(at), y: chart.y(l.values[at] ?? 0) }];
      })
      .sort((a, b) => a.y - b.y)
      .map((w, i) => ({ ...w, y: w.y + (i === 0 ? -13 : 13) }));
    const heights = labelColumn(
      wanted.map((w) => w.y),
      LABEL,
      [chart.upper.top, chart.upper.bottom],
    );
    const room = 34;
    return wanted.map((w, i) => ({
      id: w.id,
      x: Math.min(chart.right - room, Math.max(chart.left + room, w.x)),
      y: heights[i],
    }));
  });

  const read = $derived.by((): Read | undefined => {
    if (pointed === undefined || last < 0) return undefined;
    const i = Math.round(Math.max(0, Math.min(last, pointed)));
    const session = chart.sessions[i];
    const rows = chart.lines.flatMap((l) => {
      const value = l.values[i];
      return value === null ? [] : [{ name: names[l.id], text: text(value), color: colors[l.id] }];
    });
    const plain = (name: string, words: string) => ({ name, text: words, color: 'transparent' });
    if (session.percentile !== null) rows.push(plain('implied stood at the', percentileText(session.percentile)));
    if (under === 'volume' && session.optionVolume !== null)
      rows.push(plain('option volume', countText(session.optionVolume)));
    if (under === 'interest' && session.openInterest !== null)
      rows.push(plain('open interest', countText(session.openInterest)));
    if (session.price !== null)
      rows.push({ name: 'price', text: `${numberText(session.price, decimals)} ${currency}`, color: palette.ink });
    return { at: chart.x(i), title: dateText(session.session, level.asOf), rows };
  });

  function point(event: PointerEvent): void {
    const at = chart.x.invert(event.offsetX);
    pointed = at >= -0.5 && at <= last + 0.5 ? at : undefined;
  }

  /** Sessions by arrows, months by pages. */
  function step(event: KeyboardEvent): void {
    const steps: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, PageUp: -21, PageDown: 21 };
    const by = event.key === 'Home' ? -Infinity : event.key === 'End' ? Infinity : steps[event.key];
    if (by === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    pointed = Math.max(0, Math.min(last, Math.round(pointed ?? last) + by));
    event.preventDefault();
    event.stopPropagation();
  }
  const description = $derived(
    `${chart.sessions.length} sessions: ${chart.lines
      .map((l) => {
        const known = l.values.filter((v) => v !== null);
        return known.length === 0
          ? `${names[l.id]}: none`
          : `${names[l.id]} from ${text(Math.min(...known))} to ${text(Math.max(...known))}, last ${text(known[known.length - 1])}`;
      })
      .join('; ')}.`,
  );
  const spoken = $derived(
    read ? `${read.title}: ${read.rows.map((r) => `${r.name} ${r.text}`).join(', ')}` : description,
  );
</script>

<ChartFrame
  label="Level of {level.symbol} through time"
  {description}
  table={() => levelTable(chart.sessions, forecast)}
  picture={(format) => svgPicture(drawing, format, { width, height })}
>
  <div class="absolute inset-0" bind:clientWidth={width} bind:clientHeight={height}>
    <div
      class="h-full w-full"
      role="slider"
      tabindex="0"
      aria-label="Session that is read"
      aria-valuemin={0}
      aria-valuemax={Math.max(0, last)}
      aria-valuenow={Math.round(pointed ?? last)}
      aria-valuetext={spoken}
      onkeydown={step}
      onblur={() => (pointed = undefined)}
    >
      <svg
        bind:this={drawing}
        {width}
        {height}
        xmlns="http://www.w3.org/2000/svg"
        font-family={CHART_FONT}
        font-size="11.5"
        role="presentation"
        data-ready="true"
        onpointermove={point}
        onpointerleave={() => (pointed = undefined)}
      >
        <text x="2" y="13" fill={palette.soft}>{titles[show]}{underWords}</text>
        {#each ticks as tick (tick)}
          <line x1={chart.left} x2={chart.right} y1={chart.y(tick)} y2={chart.y(tick)} stroke={palette.hair} />
          <text x={chart.left - 6} y={chart.y(tick) + 4} text-anchor="end" fill={palette.soft}
            >{tickWords(isRatio ? tick : tick * 100)}</text
          >
        {/each}
        {#if chart.under}
          <path d={chart.under.path} fill={palette.line} data-testid="laid-under" />
        {/if}
        {#each chart.gaps as gap, i (i)}
          <path d={gap.path} fill={gap.isAbove ? palette.implied : palette.realized} fill-opacity="0.12" />
        {/each}
        {#if show === 'ratio' && chart.y.domain()[0] < 1 && chart.y.domain()[1] > 1}
          <line x1={chart.left} x2={chart.right} y1={chart.y(1)} y2={chart.y(1)} stroke={palette.faint} />
        {:else if show === 'difference' && chart.y.domain()[0] < 0}
          <line x1={chart.left} x2={chart.right} y1={chart.y(0)} y2={chart.y(0)} stroke={palette.faint} />
        {/if}
        {#each chart.lines as l (l.id)}
          <path
            d={l.path}
            fill="none"
            stroke={colors[l.id]}
            stroke-width={l.id === 'implied' ? 1.6 : 1.4}
            stroke-dasharray={l.id === 'forecast' ? '5 3' : undefined}
            data-line={l.id}
          />
          {#if l.end}<circle cx={l.end.x} cy={l.end.y} r="2.6" fill={colors[l.id]} />{/if}
        {/each}
        {#each labels as label (label.id)}
          <text
            x={label.x}
            y={label.y + 4}
            fill={label.id === 'realized' ? palette.realizedText : colors[label.id]}
            stroke={palette.paper}
            stroke-width="3"
            text-anchor="middle"
            paint-order="stroke">{names[label.id]}</text
          >
        {/each}

        <text x="2" y={chart.lower.top - 21} fill={palette.soft}>price, {currency}</text>
        {#each priceTicks as tick (tick)}
          <line x1={chart.left} x2={chart.right} y1={chart.price(tick)} y2={chart.price(tick)} stroke={palette.hair} />
          <text x={chart.left - 6} y={chart.price(tick) + 4} text-anchor="end" fill={palette.soft}
            >{priceWords(tick)}</text
          >
        {/each}
        {#each chart.flags as flag, i (i)}
          <line
            x1={flag.x}
            x2={flag.x}
            y1={chart.lower.top - 12}
            y2={chart.lower.bottom}
            stroke={palette.event}
            stroke-dasharray="2 3"
          />
          {#if flag.isNamed && flag.x + 6.2 * flag.label.length < chart.right}<text
              x={flag.x + 4}
              y={chart.lower.top - 6}
              fill={palette.event}
              stroke={palette.paper}
              stroke-width="3"
              paint-order="stroke">{flag.label}</text
            >{/if}
        {/each}
        <path d={chart.priceLine.path} fill="none" stroke={palette.ink} stroke-width="1.1" data-line="price" />
        <line x1={chart.left} x2={chart.right} y1={chart.lower.bottom} y2={chart.lower.bottom} stroke={palette.faint} />
        {#each chart.months as month (month.x)}
          {#if month.x < chart.right - 12}
            <text x={month.x} y={height - 6} text-anchor="middle" fill={palette.soft}>{month.text}</text>
          {/if}
        {/each}

        {#if chart.histogram}
          {@const h = chart.histogram}
          {@const from = chart.right + 14}
          {@const bars = ASIDE - 84}
          {@const rail = width - 46}
          <g data-testid="distribution">
            {#each h.bars as bar, i (i)}
              {#if bar.count > 0}
                <rect
                  x={from}
                  y={bar.top + 0.5}
                  width={Math.max(1, bars * bar.share)}
                  height={Math.max(1, bar.bottom - bar.top - 1)}
                  fill={bar.isBelow ? palette.implied : palette.faint}
                  fill-opacity={bar.isBelow ? 0.38 : 0.45}
                />
              {/if}
            {/each}
            <line x1={from - 6} x2={rail} y1={chart.y(h.now)} y2={chart.y(h.now)} stroke={palette.ink} />
            <line x1={rail} x2={rail} y1={chart.y(h.most)} y2={chart.y(h.least)} stroke={palette.soft} />
            <line x1={rail - 4} x2={rail + 4} y1={chart.y(h.most)} y2={chart.y(h.most)} stroke={palette.soft} />
            <line x1={rail - 4} x2={rail + 4} y1={chart.y(h.least)} y2={chart.y(h.least)} stroke={palette.soft} />
            <path d="M{rail - 5},{chart.y(h.now)}l5,-4l5,4l-5,4z" fill={palette.implied} aria-hidden="true" />
          </g>
        {/if}
        {#if read}
          <line
            x1={read.at}
            x2={read.at}
            y1={chart.upper.top}
            y2={chart.lower.bottom}
            stroke={palette.ink}
            stroke-width="0.8"
            data-testid="level-crosshair"
          />
        {/if}
      </svg>
    </div>
    {#if chart.histogram && place}
      {@const h = chart.histogram}
      {@const low = chart.y(h.least)}
      {@const high = Math.max(chart.y(h.most) - 16, BELOW_FILES)}
      {@const now = chart.y(h.now)}
      <!-- Beside the rail both ends and, where they leave room, the rank; under the bars the share that stands below. -->
      <div class="pointer-events-none text-[11.5px] leading-[13px]" id="{uid}-rail">
        <span class="text-soft absolute right-0 w-[40px]" style:top="{high}px"
          >high<br />{text(h.most).replace(/ (%|pts)$/, '')}</span
        >
        {#if place.rank !== null && now - high > 44 && low - now > 28}
          <span class="absolute right-0 w-[40px] font-semibold" style:top="{now - 13}px"
            >rank<br />{Math.round(place.rank * 100)}</span
          >
        {/if}
        <span class="absolute text-left" style:left="{chart.right + 14}px" style:top="{low + 6}px"
          >now the {percentileText(place.percentile)}</span
        >
        <span class="text-soft absolute right-0 w-[40px]" style:top="{low - 10}px"
          >low<br />{text(h.least).replace(/ (%|pts)$/, '')}</span
        >
      </div>
    {/if}
  </div>
  {#if read}<Readout
      {read}
      width={chart.right}
      top={chart.upper.top}
      bottom={height - chart.lower.bottom}
      hasLine={false}
    />{/if}
</ChartFrame>
