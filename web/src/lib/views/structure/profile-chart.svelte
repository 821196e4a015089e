<!-- A measure by the price of the underlying: now, on a chosen day, and at the first expiry, over the law of the price then. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';
  import SvgChart from '$lib/ui/svg-chart.svelte';
  import ValueLines from '$lib/ui/value-lines.svelte';
  import Readout, { type Read } from '$lib/ui/readout.svelte';
  import { labelColumn } from '$lib/ui/label-column';
  import { numberText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import type { Palette } from '$lib/ui/palette';
  import type { Profile, ProfileLine } from './profile';
  import { measureText, measureUnit, measureWords, type ShownMeasure } from './structure-measure';

  interface Props {
    profile: Profile;
    measure: ShownMeasure;
    /** Of the underlying now */
    price: number;
    /** That is looked at */
    at: number;
    label: string;
    decimals: number;
    currency: string;
    palette: Palette;
    /** @param isFinal once the hand lets go */
    onat: (price: number, isFinal: boolean) => void;
  }
  let { profile, measure, price, at, label, decimals, currency, palette, onat }: Props = $props();
  const text = (value: number) => measureText(value, measure);
  const MARGIN = { left: 64, right: 74, top: 26, bottom: 28 };
  const LABEL = 14;
  /** Share of the height that the law takes at its mode. */
  const LAW = 0.3;
  const PAD = 0.08;
  let width = $state(900);
  let height = $state(320);
  let drawing = $state<SVGSVGElement>();
  let pointed = $state<number>();

  const isMain = (l: ProfileLine) => l.id === 'now' || l.id === 'day' || l.id === 'front';
  function color(l: ProfileLine): string {
    if (l.id === 'front') return palette.ink;
    if (l.id === 'day') return palette.own;
    if (l.id === 'now') return palette.implied;
    if (l.id.startsWith('leg')) return palette.soft;
    return palette.beside[Number(l.id.split(' ')[1]) % palette.beside.length];
  }
  const x = $derived(
    scaleLinear()
      .domain([profile.prices[0], profile.prices[profile.prices.length - 1]])
      .range([MARGIN.left, Math.max(MARGIN.left + 1, width - MARGIN.right)]),
  );
  const y = $derived.by(() => {
    const all = [0, ...profile.lines.flatMap((l) => l.values)];
    const [least, most] = [Math.min(...all), Math.max(...all)];
    const pad = (most - least || 1) * PAD;
    return scaleLinear()
      .domain([least - pad, most + pad])
      .range([Math.max(MARGIN.top + 1, height - MARGIN.bottom), MARGIN.top]);
  });
  const ticks = $derived(y.ticks(6));
  const words = $derived(tickText(ticks));
  const across = $derived(x.ticks(Math.max(3, Math.min(9, width / 100))));
  const acrossWords = $derived(tickText(across));
  const paths = $derived(
    profile.lines.map((l) => ({
      ...l,
      d:
        line<number>()
          .x((_, i) => x(profile.prices[i]))
          .y((v) => y(v))(l.values) ?? '',
    })),
  );
  const law = $derived(
    area<number>()
      .x((_, i) => x(profile.prices[i]))
      .y0(height - MARGIN.bottom)
      .y1((share) => height - MARGIN.bottom - share * LAW * (height - MARGIN.top - MARGIN.bottom))(
      profile.silhouette,
    ) ?? '',
  );
  /** Names at the ends of their lines, none over another. */
  const ends = $derived.by(() => {
    const last = profile.lines.map((l) => ({ l, wanted: y(l.values[l.values.length - 1]) }));
    last.sort((a, b) => a.wanted - b.wanted);
    const heights = labelColumn(
      last.map((e) => e.wanted),
      LABEL,
      [MARGIN.top, height - MARGIN.bottom],
    );
    return last.map(({ l }, i) => ({ l, y: heights[i] }));
  });
  /** Break-evens are named as far as they leave each other room. */
  const named = $derived.by(() => {
    let free = -Infinity;
    return profile.breakEvens
      .filter((b) => b >= x.domain()[0] && b <= x.domain()[1])
      .map((b) => {
        const isNamed = x(b) > free;
        if (isNamed) free = x(b) + 60;
        return { price: b, isNamed };
      });
  });
  const read = $derived.by((): Read | undefined => {
    if (pointed === undefined || isHeld || profile.lines.length === 0) return undefined;
    const under = x.invert(pointed);
    if (under < x.domain()[0] || under > x.domain()[1]) return undefined;
    const near = profile.prices.reduce(
      (best, p, i) => (Math.abs(p - under) < Math.abs(profile.prices[best] - under) ? i : best),
      0,
    );
    return {
      at: x(profile.prices[near]),
      title: `at ${numberText(profile.prices[near], decimals)}`,
      rows: profile.lines.map((l) => ({ name: l.name, text: text(l.values[near]), color: color(l) })),
    };
  });
  const description = $derived(
    profile.lines
      .map((l) => {
        const [least, most] = [Math.min(...l.values), Math.max(...l.values)];
        return `${l.name}: between ${text(least)} and ${text(most)} ${measureUnit(measure, currency)}`;
      })
      .join('; '),
  );
  const table = () => ({
    header: ['price', ...profile.lines.map((l) => l.name)],
    rows: profile.prices.map((p, i) => [p, ...profile.lines.map((l) => l.values[i])]),
  });

  /** Ticks nearer to the handle than this, pixels, leave it the room. */
  const BESIDE = 52;
  /* The price that is looked at, by hand and by key. */
  let isHeld = $state(false);
  const handle = $derived(Math.max(x.range()[0], Math.min(x.range()[1], x(at))));
  /** Hundredths of what is drawn. */
  const step = $derived((x.domain()[1] - x.domain()[0]) / 100);
  const STEPS: Record<string, number> = {
    ...{ ArrowRight: 1, ArrowUp: 1, PageUp: 10 },
    ...{ ArrowLeft: -1, ArrowDown: -1, PageDown: -10 },
  };
  const priceAt = (event: PointerEvent) => {
    const offset = event.clientX - (drawing?.getBoundingClientRect().left ?? 0);
    const [low, high] = x.domain();
    return Number(Math.max(low, Math.min(high, x.invert(offset))).toFixed(decimals));
  };
  function take(event: PointerEvent): void {
    if (event.button !== 0) return;
    isHeld = true;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    event.preventDefault();
  }
  function move(event: PointerEvent): void {
    if (isHeld) onat(priceAt(event), false);
  }
  function end(event: PointerEvent): void {
    if (isHeld) onat(priceAt(event), true);
    isHeld = false;
  }
  function key(event: KeyboardEvent): void {
    const by = STEPS[event.key];
    if (by === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    const [low, high] = x.domain();
    onat(Number(Math.max(low, Math.min(high, at + by * step)).toFixed(decimals)), true);
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<SvgChart
  {label}
  {description}
  {table}
  bind:width
  bind:height
  bind:drawing
  onpointermove={(event) => (pointed = event.offsetX)}
  onpointerleave={() => (pointed = undefined)}
>
  <text x="2" y="13" fill={palette.soft}>{measureWords(measure)}, {measureUnit(measure, currency)}</text>
  <path d={law} fill={palette.implied} fill-opacity="0.12" data-testid="silhouette" />
  <ValueLines {ticks} {y} from={MARGIN.left} to={width - MARGIN.right} text={words} {palette} isZeroHeavy />
  {#each across.filter((t) => Math.abs(x(t) - handle) > BESIDE) as t (t)}
    <text x={x(t)} y={height - 9} text-anchor="middle" fill={palette.soft}>{acrossWords(t)}</text>
  {/each}
  <line
    x1={x(price)}
    x2={x(price)}
    y1={MARGIN.top}
    y2={height - MARGIN.bottom}
    stroke={palette.soft}
    stroke-dasharray="2 3"
  />
  <text x={x(price)} y={MARGIN.top - 5} text-anchor="middle" fill={palette.soft}>{numberText(price, decimals)}</text>
  {#if profile.expected}
    {@const [from, to] = profile.expected.map((p) => Math.max(x.range()[0], Math.min(x.range()[1], x(p))))}
    <path
      d="M{from} {height - MARGIN.bottom - 5}v5H{to}v-5"
      fill="none"
      stroke={palette.implied}
      stroke-width="1.2"
      data-testid="expected-move"
    />
    <text x={to + 4} y={height - MARGIN.bottom - 3} fill={palette.implied}>68 %</text>
  {/if}
  {#each paths as l (l.id)}
    <path
      d={l.d}
      fill="none"
      stroke={color(l)}
      stroke-width={l.id === 'front' ? 2.2 : isMain(l) ? 1.5 : l.id.startsWith('leg') ? 1 : 1.8}
      stroke-dasharray={l.id === 'now' ? '2 3' : l.id.startsWith('leg') ? '5 3' : undefined}
      data-line={l.id}
    />
  {/each}
  {#each named as b (b.price)}
    <circle cx={x(b.price)} cy={y(0)} r="4" fill={palette.paper} stroke={palette.ink} stroke-width="1.5" />
    {#if b.isNamed}
      <text
        x={x(b.price)}
        y={y(0) + 18}
        text-anchor="middle"
        fill={palette.ink}
        stroke={palette.paper}
        stroke-width="3"
        paint-order="stroke">{numberText(b.price, decimals)}</text
      >
    {/if}
  {/each}
  {#each ends as e (e.l.id)}
    <text x={width - MARGIN.right + 6} y={e.y + 4} fill={color(e.l)} font-weight="600">{e.l.name}</text>
  {/each}
  <g
    role="slider"
    tabindex="0"
    aria-label="Price that is looked at"
    aria-valuemin={x.domain()[0]}
    aria-valuemax={x.domain()[1]}
    aria-valuenow={at}
    aria-valuetext={numberText(at, decimals)}
    class="cursor-ew-resize touch-none"
    onkeydown={key}
    onpointerdown={take}
    onpointermove={move}
    onpointerup={end}
    onpointercancel={end}
  >
    <line x1={handle} x2={handle} y1={MARGIN.top} y2={height - MARGIN.bottom} stroke={palette.own} />
    <rect
      x={handle - 30}
      y={height - MARGIN.bottom + 1}
      width="60"
      height="18"
      rx="3"
      fill={palette.paper}
      stroke={palette.own}
      stroke-width="1.4"
    />
    <text
      x={handle}
      y={height - MARGIN.bottom + 14}
      text-anchor="middle"
      fill={palette.own}
      font-weight="600"
      data-testid="price-at">{numberText(at, decimals)}</text
    >
  </g>
  {#snippet over()}
    {#if read}<Readout {read} {width} top={MARGIN.top} bottom={MARGIN.bottom} />{/if}
  {/snippet}
</SvgChart>
