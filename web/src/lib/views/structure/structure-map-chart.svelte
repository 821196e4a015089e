<!-- Lines of an equal measure by price, and by day or volatility running down; prices stand under those of the chart above. -->
<script lang="ts">
  import { line } from 'd3-shape';
  import SvgChart from '$lib/ui/svg-chart.svelte';
  import { dateText, signedText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import { measureUnit, measureWords, type ShownMeasure } from './structure-measure';
  import type { MapAxis } from './parameters';
  import type { Palette } from '$lib/ui/palette';
  import { MAP_POINTS, type StructureMap } from './structure-map';

  interface Props {
    map: StructureMap | undefined;
    /** Why there is none, once that is known */
    absence: string | undefined;
    measure: ShownMeasure;
    axis: MapAxis;
    /** On every volatility, points */
    points: number;
    /** Days from now to the first expiry, whole */
    last: number;
    /** That is looked at */
    day: number;
    asOf: string;
    currency: string;
    events: readonly { label: string; instant: string }[];
    palette: Palette;
    /** @param isFinal once the hand lets go */
    onday: (day: number, isFinal: boolean) => void;
    onpoints: (points: number, isFinal: boolean) => void;
  }
  let { map, absence, measure, axis, points, last, day, asOf, currency, events, palette, onday, onpoints }: Props =
    $props();
  const isByDay = $derived(axis === 'day');
  const [TOP_POINTS, BOTTOM_POINTS] = MAP_POINTS;
  /** As the chart above has them. */
  const MARGIN = { left: 64, right: 74, top: 22, bottom: 8 };
  const DAY = 86_400_000;
  const STEPS: Record<string, number> = {
    ...{ ArrowRight: 1, ArrowDown: 1, PageDown: 7 },
    ...{ ArrowLeft: -1, ArrowUp: -1, PageUp: -7 },
  };
  /** Letters of two labels keep this far apart, pixels. */
  const APART = { across: 56, down: 13 };
  const uid = $props.id();
  let width = $state(900);
  let height = $state(190);
  let drawing = $state<SVGSVGElement>();
  let isHeld = $state(false);
  const right = $derived(Math.max(MARGIN.left + 1, width - MARGIN.right));
  const bottom = $derived(Math.max(MARGIN.top + 1, height - MARGIN.bottom));
  const across = (share: number) => MARGIN.left + share * (right - MARGIN.left);
  const down = (share: number) => MARGIN.top + share * (bottom - MARGIN.top);
  const dateAfter = (days: number) =>
    dateText(new Date(Date.parse(asOf) + days * DAY).toISOString().slice(0, 10), asOf);
  const color = (value: number) => (value === 0 ? palette.ink : value > 0 ? palette.gain : palette.loss);
  const lines = $derived(
    (map?.lines ?? []).map((l) => ({
      value: l.value,
      d: l.rings
        .map(
          (ring) =>
            line<[number, number]>(
              (p) => across(p[0]),
              (p) => down(p[1]),
            )(ring) ?? '',
        )
        .join(''),
    })),
  );
  const shareNow = $derived(
    isByDay ? (last === 0 ? 0 : day / last) : (points - TOP_POINTS) / (BOTTOM_POINTS - TOP_POINTS),
  );
  const handle = $derived(down(Math.max(0, Math.min(1, shareNow))));
  /** Levels are round: as many digits as tell them apart. */
  const written = $derived(tickText((map?.lines ?? []).map((l) => l.value).sort((a, b) => a - b)));
  const levelText = (value: number) => `${value > 0 && measure !== 'value' ? '+' : ''}${written(value)}`;
  /** Each line is named once, where no other name stands. */
  const names = $derived.by(() => {
    const placed: { value: number; x: number; y: number }[] = [];
    for (const { value, rings } of map?.lines ?? []) {
      const inside = rings.flat().filter(([x, y]) => x > 0.04 && x < 0.96 && y > 0.06 && y < 0.94);
      // From the middle of its time outward.
      const order = inside.sort((a, b) => Math.abs(a[1] - 0.55) - Math.abs(b[1] - 0.55));
      const free = order.find(
        ([x, y]) =>
          Math.abs(down(y) - handle) > APART.down &&
          placed.every((p) => Math.abs(p.x - across(x)) > APART.across || Math.abs(p.y - down(y)) > APART.down),
      );
      if (free) placed.push({ value, x: across(free[0]), y: down(free[1]) });
    }
    return placed;
  });
  const flags = $derived(
    (isByDay ? events : [])
      .map((e) => ({ ...e, share: (Date.parse(e.instant) - Date.parse(asOf)) / DAY / Math.max(1, last) }))
      .filter((e) => e.share > 0 && e.share < 1),
  );

  /** To whole days, and to a quarter of a point. */
  function set(share: number, isFinal: boolean): void {
    if (isByDay) onday(Math.max(0, Math.min(last, Math.round(share * last))), isFinal);
    else {
      const wanted = TOP_POINTS + share * (BOTTOM_POINTS - TOP_POINTS);
      onpoints(Math.max(BOTTOM_POINTS, Math.min(TOP_POINTS, Math.round(4 * wanted) / 4)), isFinal);
    }
  }
  const shareAt = (event: PointerEvent) =>
    (event.clientY - (drawing?.getBoundingClientRect().top ?? 0) - MARGIN.top) / (bottom - MARGIN.top);
  function take(event: PointerEvent): void {
    if (event.button !== 0) return;
    isHeld = true;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    set(shareAt(event), false);
    event.preventDefault();
  }
  function end(event: PointerEvent): void {
    if (isHeld) set(shareAt(event), true);
    isHeld = false;
  }
  function step(event: KeyboardEvent): void {
    const by = STEPS[event.key];
    if (by === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    if (isByDay) onday(Math.max(0, Math.min(last, day + by)), true);
    else onpoints(Math.max(BOTTOM_POINTS, Math.min(TOP_POINTS, points - 0.5 * by)), true);
    event.preventDefault();
    event.stopPropagation();
  }
  const unit = $derived(`${measureWords(measure)}, ${measureUnit(measure, currency)}`);
  const handleText = $derived(isByDay ? dateAfter(day) : signedText(points, 2));
  const table = () => ({
    header: [
      unit,
      'price, share of the width',
      isByDay
        ? 'time, share of the way to expiry'
        : `volatility, share of the way from ${TOP_POINTS} points to ${BOTTOM_POINTS}`,
    ],
    rows: (map?.lines ?? []).flatMap((l) => l.rings.flat().map(([x, y]) => [l.value, x, y])),
  });
</script>

<SvgChart
  label="{measureWords(measure)} by price and {isByDay ? 'day' : 'volatility'}"
  description={isByDay
    ? `Lines of equal ${measureWords(measure)} from now to the first expiry, time running down.`
    : `Lines of equal ${measureWords(measure)} in ${day} days, from ${TOP_POINTS} points of volatility more down to ${-BOTTOM_POINTS} less.`}
  {table}
  bind:width
  bind:height
  bind:drawing
  isReady={map !== undefined || absence !== undefined}
  class="touch-none select-none"
  onpointerdown={take}
  onpointermove={(event) => {
    if (isHeld) set(shareAt(event), false);
  }}
  onpointerup={end}
  onpointercancel={end}
>
  <text x="2" y="13" fill={palette.soft}
    >{unit}, by price and {isByDay
      ? 'day: time runs down'
      : `volatility on ${dateAfter(day)}, points on the fitted`}</text
  >
  {#if absence && !map}
    <text x={MARGIN.left + 8} y={MARGIN.top + 20} fill={palette.soft}>{absence}</text>
  {/if}
  <clipPath id="{uid}-plot"
    ><rect x={MARGIN.left} y={MARGIN.top} width={right - MARGIN.left} height={bottom - MARGIN.top} /></clipPath
  >
  <rect
    x={MARGIN.left}
    y={MARGIN.top}
    width={right - MARGIN.left}
    height={bottom - MARGIN.top}
    fill="none"
    stroke={palette.hair}
  />
  {#each flags as flag (flag.instant + flag.label)}
    <line
      x1={MARGIN.left}
      x2={right}
      y1={down(flag.share)}
      y2={down(flag.share)}
      stroke={palette.event}
      stroke-dasharray="2 3"
    />
    <text x={MARGIN.left + 4} y={down(flag.share) - 3} fill={palette.event}>{flag.label}</text>
  {/each}
  <g clip-path="url(#{uid}-plot)">
    {#each lines as l (l.value)}
      <path d={l.d} fill="none" stroke={color(l.value)} stroke-width={l.value === 0 ? 2.2 : 1.1} data-value={l.value} />
    {/each}
  </g>
  {#each names as n (n.value)}
    <text
      x={n.x}
      y={n.y + 4}
      text-anchor="middle"
      fill={color(n.value)}
      stroke={palette.paper}
      stroke-width="4"
      paint-order="stroke">{levelText(n.value)}</text
    >
  {/each}
  <text x={MARGIN.left - 6} y={MARGIN.top + 10} text-anchor="end" fill={palette.soft}
    >{isByDay ? dateAfter(0) : signedText(TOP_POINTS, 0)}</text
  >
  <text x={MARGIN.left - 6} y={bottom} text-anchor="end" fill={palette.soft}
    >{isByDay ? dateAfter(last) : signedText(BOTTOM_POINTS, 0)}</text
  >
  <line x1={MARGIN.left} x2={right} y1={handle} y2={handle} stroke={palette.own} stroke-width="1.6" />
  <g
    role="slider"
    tabindex="0"
    aria-label={isByDay ? 'Day that is looked at, days from now' : 'Points on every volatility, dragged'}
    aria-orientation="vertical"
    aria-valuemin={isByDay ? 0 : BOTTOM_POINTS}
    aria-valuemax={isByDay ? last : TOP_POINTS}
    aria-valuenow={isByDay ? day : points}
    aria-valuetext={isByDay ? `in ${day} days, ${dateAfter(day)}` : `${signedText(points, 2)} points`}
    class="cursor-ns-resize"
    onkeydown={step}
  >
    <rect
      x={right + 4}
      y={handle - 10}
      width="66"
      height="20"
      rx="3"
      fill={palette.paper}
      stroke={palette.own}
      stroke-width="1.4"
    />
    <text
      x={right + 37}
      y={handle + 4}
      text-anchor="middle"
      fill={palette.own}
      font-weight="600"
      data-testid="map-handle">{handleText}</text
    >
  </g>
</SvgChart>
