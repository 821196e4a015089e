<!-- Where the price came from and how far options think it goes: its bars, and the fan of implied quantiles with the laws behind it. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import SvgChart from '$lib/ui/svg-chart.svelte';
  import ValueLines from '$lib/ui/value-lines.svelte';
  import { labelColumn } from '$lib/ui/label-column';
  import { dateText, numberText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import { expiryColor, type Palette } from '$lib/ui/palette';
  import type { PriceLaw } from '@umwelt/core/probability';
  import type { ExpiryPicture, Picture } from '$lib/api/picture';
  import type { DailyBarRow, FrozenSet } from '$lib/api/range';
  import { rangeFan } from './range-fan';

  interface Props {
    picture: Pick<Picture, 'asOf' | 'price' | 'events' | 'underlying'>;
    expiries: readonly ExpiryPicture[];
    laws: ReadonlyMap<string, PriceLaw>;
    bars: readonly DailyBarRow[];
    focus: string | undefined;
    /** Expected move by expiry, as it is told */
    brackets: ReadonlyMap<string, { low: number; high: number }>;
    /** Kept before, to be held against what followed */
    frozen: readonly FrozenSet[];
    levels: readonly number[];
    /** Least step of a level, price */
    tick: number;
    decimals: number;
    currency: string;
    palette: Palette;
    /** @param isFinal once the hand lets go */
    onlevel: (index: number, price: number, isFinal: boolean) => void;
    /** Beside the ways to take the chart along */
    beside?: Snippet;
  }
  let {
    picture,
    expiries,
    laws,
    bars,
    focus,
    brackets,
    frozen,
    levels,
    tick,
    decimals,
    currency,
    palette,
    onlevel,
    beside,
  }: Props = $props();
  /** Steps of a level by arrows and by pages, in ticks. */
  const STEPS: Record<string, number> = { ArrowUp: 1, ArrowDown: -1, PageUp: 20, PageDown: -20 };
  const LABEL = 14;
  const TAG = { width: 66, height: 20 };
  let width = $state(900);
  let height = $state(340);
  const uid = $props.id();
  let drawing = $state<SVGSVGElement>();
  let dragged = $state<number>();

  const fan = $derived(rangeFan(picture, expiries, laws, { bars, levels: [], width, height }));
  const within = (y: number) => Math.min(Math.max(y, fan.top), fan.bottom);
  const ticks = $derived(fan.y.ticks(7));
  const words = $derived(tickText(ticks));
  /** Where the lines are named: beside them, apart from each other. */
  const tags = $derived.by(() => {
    const order = levels.map((level, i) => ({ i, y: within(fan.y(level)) })).sort((a, b) => a.y - b.y);
    const placed = labelColumn(
      order.map((o) => o.y),
      TAG.height + 2,
      [fan.top, fan.bottom],
    );
    const at = new Array<number>(levels.length).fill(0);
    for (const [n, { i }] of order.entries()) at[i] = placed[n];
    return at;
  });
  /** Quantiles are named where no line is. */
  const shares = $derived(
    labelColumn(
      fan.ends.map((e) => e.y),
      LABEL,
      [fan.top, fan.bottom],
    ).map((y) => (tags.some((tag) => Math.abs(tag - y) < (TAG.height + LABEL) / 2) ? undefined : y)),
  );
  /** Names of expiries below, from the far one inward, as far as they leave room. */
  const dates = $derived.by(() => {
    const kept: { date: string; x: number }[] = [];
    const order = [...fan.expiries].sort(
      (a, b) => Number(b.date === focus) - Number(a.date === focus) || b.days - a.days,
    );
    for (const { date, x } of order) {
      if (kept.some((k) => Math.abs(k.x - x) < 52)) continue;
      kept.push({ date, x });
    }
    return kept;
  });
  /** Levels that were kept, from their instant to their expiry or now; of each set the nearest ones alone, else they cover each other. */
  const MOST_KEPT = 3;
  const kept = $derived(
    fan.bars.length === 0
      ? []
      : frozen.flatMap((set) => {
          const from = Date.parse(set.instant);
          if (from < Date.parse(fan.bars[0].session)) return [];
          const nearest = set.levels.slice(0, MOST_KEPT);
          const top = Math.max(...nearest.map((level) => level.high));
          return nearest.map((level) => ({
            key: `${set.id} ${level.date}`,
            x1: fan.x.past(from),
            x2: Math.min(fan.now, fan.x.past(Date.parse(level.date))),
            low: fan.y(level.low),
            high: fan.y(level.high),
            state: level.state,
            // Over the widest of them.
            name: level.high === top ? set.name : '',
          }));
        }),
  );
  /** The next event of each kind is named, where that leaves room; the others are ticks. */
  const flags = $derived.by(() => {
    const ahead = picture.events
      .map((e) => ({ ...e, days: (Date.parse(e.instant) - Date.parse(picture.asOf)) / 86_400_000 }))
      .filter((e) => e.days > 0 && fan.x.future(Math.sqrt(e.days)) < fan.right)
      .map((e) => ({ ...e, x: fan.x.future(Math.sqrt(e.days)) }));
    let free = -Infinity;
    return ahead.map((e, i) => {
      const isNamed = ahead.findIndex((other) => other.kind === e.kind) === i && e.x > free;
      if (isNamed) free = e.x + 6.2 * e.label.length + 10;
      return { label: e.label, instant: e.instant, x: e.x, isNamed };
    });
  });
  /** Listed strikes of the expiry in focus, as far as they are on the chart and apart. */
  const LEAST_APART = 4;
  const strikes = $derived.by(() => {
    let last = Infinity;
    return (expiries.find((e) => e.date === focus)?.strikes ?? []).filter((strike) => {
      const y = fan.y(strike);
      if (y < fan.top || y > fan.bottom || last - y < LEAST_APART) return false;
      last = y;
      return true;
    });
  });
  const nearest = $derived(
    levels.length === 0 || strikes.length === 0
      ? undefined
      : strikes.reduce((a, b) => (Math.abs(b - levels[0]) < Math.abs(a - levels[0]) ? b : a)),
  );
  const onTick = (price: number) => Math.max(tick, Math.round(price / tick) * tick);
  const priceAt = (event: PointerEvent) => {
    const box = drawing?.getBoundingClientRect();
    return onTick(fan.y.invert(event.clientY - (box?.top ?? 0)));
  };

  function take(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    dragged = index;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    onlevel(index, priceAt(event), false);
    event.preventDefault();
  }
  function move(event: PointerEvent): void {
    if (dragged !== undefined) onlevel(dragged, priceAt(event), false);
  }
  function end(event: PointerEvent): void {
    if (dragged !== undefined) onlevel(dragged, priceAt(event), true);
    dragged = undefined;
  }
  /** The nearest line comes to where the plot was taken. */
  function takePlot(event: PointerEvent): void {
    if (event.offsetX < fan.left || event.offsetX > fan.right) return;
    const price = priceAt(event);
    take(
      event,
      levels.reduce((a, l, i) => (Math.abs(l - price) < Math.abs(levels[a] - price) ? i : a), 0),
    );
  }
  function step(event: KeyboardEvent, index: number): void {
    const by = STEPS[event.key];
    if (by === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    onlevel(index, onTick(levels[index] + by * tick), true);
    event.preventDefault();
    event.stopPropagation();
  }
  const description = $derived(
    `Price ${numberText(picture.price, decimals)} ${currency}; ${fan.expiries
      .map(
        (e) =>
          `by ${dateText(e.date, picture.asOf)} nine in ten end between ${numberText(e.quantiles[0], decimals)} and ${numberText(e.quantiles[e.quantiles.length - 1], decimals)}`,
      )
      .join('; ')}.`,
  );
  const table = () => ({
    header: ['expiry', 'days', '5 %', '16 %', '25 %', '75 %', '84 %', '95 %'],
    rows: fan.expiries.map((e) => [e.date, e.days, ...e.quantiles]),
  });
</script>

<SvgChart
  label="Range of {picture.underlying.symbol}"
  {description}
  {table}
  {beside}
  bind:width
  bind:height
  bind:drawing
  class="touch-none select-none"
  onpointerdown={takePlot}
  onpointermove={move}
  onpointerup={end}
  onpointercancel={end}
>
  <clipPath id="{uid}-plot"><rect x={0} y={fan.top} {width} height={fan.bottom - fan.top} /></clipPath>
  <text x="2" y="13" fill={palette.soft}>price, {currency}</text>
  <ValueLines {ticks} y={fan.y} from={fan.left} to={fan.right} text={words} {palette} />
  {#each fan.bands as band (band.share)}
    <path d={band.path} fill={palette.implied} fill-opacity="0.11" data-band={band.share} />
  {/each}
  {#each fan.bars as bar (bar.session)}
    <line x1={bar.x} x2={bar.x} y1={fan.y(bar.high)} y2={fan.y(bar.low)} stroke={palette.soft} />
    <line x1={bar.x - 2 * fan.barWidth} x2={bar.x} y1={fan.y(bar.open)} y2={fan.y(bar.open)} stroke={palette.soft} />
    <line x1={bar.x} x2={bar.x + 2 * fan.barWidth} y1={fan.y(bar.close)} y2={fan.y(bar.close)} stroke={palette.ink} />
  {/each}
  <line x1={fan.now} x2={fan.now} y1={fan.top - 8} y2={fan.bottom} stroke={palette.soft} stroke-dasharray="2 3" />
  {#if fan.now > fan.left + 160}
    <text x={fan.now} y={fan.top - 12} text-anchor="middle" fill={palette.soft}
      >{dateText(picture.asOf.slice(0, 10), picture.asOf)}</text
    >
  {/if}
  {#each kept as k (k.key)}
    <path
      d="M{k.x1},{k.high}H{Math.max(k.x1 + 4, k.x2)}M{k.x1},{k.low}H{Math.max(k.x1 + 4, k.x2)}M{k.x1},{k.low}V{k.high}"
      fill="none"
      stroke={palette.own}
      stroke-width="1.4"
      stroke-dasharray={k.state === 'outside' ? '4 2' : undefined}
      data-frozen={k.key}
    />
    {#if k.name}
      <text x={k.x1 + 2} y={k.high - 5} fill={palette.own} stroke={palette.paper} stroke-width="3" paint-order="stroke"
        >{k.name}</text
      >
    {/if}
  {/each}
  {#each flags as flag (flag.instant + flag.label)}
    <line
      x1={flag.x}
      x2={flag.x}
      y1={fan.top}
      y2={flag.isNamed ? fan.bottom : fan.top + 7}
      stroke={palette.event}
      stroke-dasharray={flag.isNamed ? '2 3' : undefined}
    />
    {#if flag.isNamed}
      <text
        x={flag.x + 4}
        y={fan.top + 10}
        fill={palette.event}
        stroke={palette.paper}
        stroke-width="3"
        paint-order="stroke">{flag.label}</text
      >
    {/if}
  {/each}
  <g clip-path="url(#{uid}-plot)">
    {#each fan.expiries as e (e.date)}
      {@const color = expiryColor(e.days, palette)}
      {@const bracket = brackets.get(e.date)}
      {#if e.density}
        <path
          d={e.density}
          fill={color}
          fill-opacity="0.3"
          stroke={color}
          stroke-width={e.date === focus ? 1.6 : 0.9}
        />
      {/if}
      <line
        x1={e.x}
        x2={e.x}
        y1={fan.y(e.quantiles[0])}
        y2={fan.y(e.quantiles[e.quantiles.length - 1])}
        stroke={color}
        stroke-width={e.date === focus ? 1.6 : 0.8}
      />
      {#if bracket}
        <path
          d="M{e.x - 9},{within(fan.y(bracket.low))}h9M{e.x - 9},{within(fan.y(bracket.high))}h9"
          stroke={color}
          stroke-width="2.4"
          data-bracket={e.date}
        />
      {/if}
    {/each}
  </g>
  {#each strikes as strike (strike)}
    <line
      x1={fan.right - (strike === nearest ? 11 : 5)}
      x2={fan.right}
      y1={fan.y(strike)}
      y2={fan.y(strike)}
      stroke={strike === nearest ? palette.own : palette.soft}
      stroke-width={strike === nearest ? 2 : 1}
      data-strike={strike}
    />
  {/each}
  {#each dates as d (d.date)}
    <text
      x={d.x}
      y={height - 8}
      text-anchor="middle"
      fill={d.date === focus ? palette.ink : palette.soft}
      font-weight={d.date === focus ? 600 : 400}>{dateText(d.date, picture.asOf)}</text
    >
  {/each}
  {#each fan.months as month (month.x)}
    {#if month.x < fan.now - 24}
      <text x={month.x} y={height - 8} text-anchor="middle" fill={palette.soft}>{month.text}</text>
    {/if}
  {/each}
  {#each fan.ends as e, i (e.share)}
    {@const y = shares[i]}
    {#if y !== undefined}
      <text x={fan.right + 44} y={y + 4} fill={palette.soft}>{Math.round(100 * e.share)} %</text>
    {/if}
  {/each}
  {#each levels as level, i (i)}
    {@const y = within(fan.y(level))}
    <line x1={fan.left} x2={width - TAG.width} y1={y} y2={y} stroke={palette.own} stroke-width="1.4" />
    <g
      role="slider"
      tabindex="0"
      aria-label={levels.length > 1 ? `Price whose odds are read, ${i + 1}` : 'Price whose odds are read'}
      aria-orientation="vertical"
      aria-valuemin={Math.round(fan.y.domain()[0])}
      aria-valuemax={Math.round(fan.y.domain()[1])}
      aria-valuenow={level}
      aria-valuetext="{numberText(level, decimals)} {currency}"
      class="cursor-ns-resize"
      onpointerdown={(event) => {
        event.stopPropagation();
        take(event, i);
      }}
      onpointermove={move}
      onpointerup={end}
      onpointercancel={end}
      onkeydown={(event) => step(event, i)}
    >
      <rect
        x={width - TAG.width}
        y={tags[i] - TAG.height / 2}
        width={TAG.width - 1}
        height={TAG.height}
        rx="3"
        fill={palette.paper}
        stroke={palette.own}
        stroke-width="1.4"
      />
      <text x={width - TAG.width / 2} y={tags[i] + 4} text-anchor="middle" fill={palette.own} font-weight="600"
        >{level > fan.y.domain()[1] ? '↑ ' : level < fan.y.domain()[0] ? '↓ ' : ''}{numberText(level, decimals)}</text
      >
    </g>
  {/each}
</SvgChart>
