<!-- What out-of-the-money options cost by their chance to end in the money: what is given up for each point of safety. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import SvgChart from '$lib/ui/svg-chart.svelte';
  import ValueLines from '$lib/ui/value-lines.svelte';
  import Readout, { type Read } from '$lib/ui/readout.svelte';
  import { numberText, probabilityText, strikeText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import { PALETTES } from '$lib/ui/palette';
  import { pageState } from '$lib/shell/page-state.svelte';
  import type { ExpiryPicture } from '$lib/api/picture';
  import { quotedViewState } from '$lib/shell/view-state.svelte';
  import { ON_SMILE } from '$lib/theory';
  import { TheoryValues } from '$lib/theory/thread';

  interface Props {
    expiry: ExpiryPicture;
    chance: number;
    premiumDecimals: number;
    currency: string;
    /** Once the hand lets go of another chance */
    onchance: (chance: number) => void;
  }
  let { expiry, chance, premiumDecimals, currency, onchance }: Props = $props();
  /** Steps of the chance by arrows and by pages. */
  const STEPS: Record<string, number> = {
    ...{ ArrowRight: 0.01, ArrowUp: 0.01, PageUp: 0.05 },
    ...{ ArrowLeft: -0.01, ArrowDown: -0.01, PageDown: -0.05 },
  };
  const MARGIN = { left: 44, right: 16, top: 22, bottom: 32 };
  /** Chances beyond this are of options near the money. */
  const MOST_CHANCE = 0.5;
  const page = pageState();
  const palette = $derived(PALETTES[page.theme]);
  let width = $state(700);
  let height = $state(150);
  let drawing = $state<SVGSVGElement>();
  let pointed = $state<number>();

  interface Point {
    strike: number;
    chance: number;
    premium: number;
  }
  const view = quotedViewState();
  const options = $derived(
    expiry.strikes.map((strike) => ({ side: strike < expiry.forward ? ('put' as const) : ('call' as const), strike })),
  );
  const theory = new TheoryValues(() => ({
    ...{ parts: [{ expiry, options }], inForce: ON_SMILE, stamp: view.theoryStamp },
  }));
  const curves = $derived(
    (['put', 'call'] as const).map((side) => {
      const points = options
        .flatMap(({ side: own, strike }, i): Point[] => {
          const value = own === side ? theory.values[0]?.[i] : undefined;
          return value && value.probabilityItm > 0.005 && value.probabilityItm <= MOST_CHANCE
            ? [{ strike, chance: value.probabilityItm, premium: value.price }]
            : [];
        })
        .sort((a, b) => a.chance - b.chance);
      return { side, points };
    }),
  );
  const all = $derived(curves.flatMap((c) => c.points));
  const x = $derived(
    scaleLinear()
      .domain([0, MOST_CHANCE])
      .range([MARGIN.left, width - MARGIN.right]),
  );
  const y = $derived(
    scaleLinear()
      .domain([0, Math.max(...all.map((p) => p.premium), 1e-9)])
      .nice(4)
      .range([height - MARGIN.bottom, MARGIN.top]),
  );
  const ticks = $derived(y.ticks(4));
  const words = $derived(tickText(ticks));
  const path = $derived((points: Point[]) =>
    line<Point>()
      .x((p) => x(p.chance))
      .y((p) => y(p.premium))(points),
  );
  const read = $derived.by((): Read | undefined => {
    if (pointed === undefined) return undefined;
    const at = x.invert(pointed);
    const rows = curves.flatMap(({ side, points }) => {
      if (points.length === 0) return [];
      const near = points.reduce((a, b) => (Math.abs(b.chance - at) < Math.abs(a.chance - at) ? b : a));
      const text = `${strikeText(near.strike)}: ${numberText(near.premium, premiumDecimals)}`;
      return [{ name: `${side}, ${probabilityText(near.chance)}`, text, color: palette.implied }];
    });
    return rows.length > 0 ? { at: pointed, title: `chance about ${probabilityText(at)}`, rows } : undefined;
  });
  /** Under the hand, before the address has it. */
  let held = $state<number>();
  const shown = $derived(held ?? chance);
  const whole = (at: number) => Math.min(0.99, Math.max(0.01, Math.round(at * 100) / 100));
  /** Where each curve has a chance, between its listed strikes. */
  const met = $derived(
    curves.flatMap(({ side, points }) => {
      const above = points.findIndex((p) => p.chance >= shown);
      if (above < 1) return [];
      const [a, b] = [points[above - 1], points[above]];
      const share = (shown - a.chance) / (b.chance - a.chance);
      const premium = a.premium + share * (b.premium - a.premium);
      return [{ side, strike: a.strike + share * (b.strike - a.strike), premium, a, b }];
    }),
  );
  /** What a point more of safety costs of the premium, where the line stands. */
  const slopes = $derived(
    met.map(({ side, a, b }) => {
      const perPoint = (b.premium - a.premium) / (100 * (b.chance - a.chance));
      return `${side} ${numberText(perPoint, premiumDecimals)}`;
    }),
  );
  const chanceAt = (event: PointerEvent) =>
    whole(x.invert(event.clientX - (drawing?.getBoundingClientRect().left ?? 0)));
  function take(event: PointerEvent): void {
    if (event.button !== 0 || event.offsetX < MARGIN.left) return;
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    held = chanceAt(event);
    event.preventDefault();
  }
  function move(event: PointerEvent): void {
    pointed = event.offsetX;
    if (held !== undefined) held = chanceAt(event);
  }
  function end(): void {
    if (held !== undefined && held !== chance) onchance(held);
    held = undefined;
  }
  function step(event: KeyboardEvent): void {
    const by = STEPS[event.key];
    if (by === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    onchance(whole(chance + by));
    event.preventDefault();
    event.stopPropagation();
  }
  const table = () => ({
    header: ['side', 'strike', 'chance in the money', 'premium'],
    rows: curves.flatMap(({ side, points }) => points.map((p) => [side, p.strike, p.chance, p.premium])),
  });
</script>

{#if slopes.length > 0}
  <p class="quiet mt-2 text-[12.5px]" data-testid="safety">
    At {Math.round(100 * shown)} % a point more of safety gives up {slopes.join(', ')}
    {currency} of premium. Pull the line to other odds: the strikes follow.
  </p>
{/if}
<div class="relative mt-1 h-[150px]">
  <SvgChart
    label="Premium by chance"
    description="Premium of listed out-of-the-money options by their chance to end in the money."
    {table}
    bind:width
    bind:height
    bind:drawing
    class="touch-none select-none"
    onpointerdown={take}
    onpointermove={move}
    onpointerup={end}
    onpointercancel={() => (held = undefined)}
    onpointerleave={() => (pointed = undefined)}
  >
    <text x="2" y="12" fill={palette.soft}>premium, {currency}, by chance to end in the money</text>
    <ValueLines {ticks} {y} from={MARGIN.left} to={width - MARGIN.right} text={words} {palette} />
    {#each [0, 0.1, 0.2, 0.3, 0.4, 0.5].filter((t) => Math.abs(x(t) - x(shown)) > 36) as t (t)}
      <text x={x(t)} y={height - 14} text-anchor="middle" fill={palette.soft}>{Math.round(100 * t)} %</text>
    {/each}
    {#each curves as { side, points } (side)}
      <path
        d={path(points)}
        fill="none"
        stroke={palette.implied}
        stroke-width="1.4"
        stroke-dasharray={side === 'put' ? '5 3' : undefined}
      />
      {#each points as p (p.strike)}
        <circle
          cx={x(p.chance)}
          cy={y(p.premium)}
          r="2.6"
          fill={side === 'call' ? palette.implied : palette.paper}
          stroke={palette.implied}
        />
      {/each}
      {#if points.length > 0}
        {@const last = points[points.length - 1]}
        <text
          x={x(last.chance) - 6}
          y={y(last.premium) + (side === 'put' ? 16 : -6)}
          text-anchor="end"
          fill={palette.implied}
          stroke={palette.paper}
          stroke-width="3"
          paint-order="stroke">{side}s</text
        >
      {/if}
    {/each}
    {#if shown <= MOST_CHANCE}
      <g
        role="slider"
        tabindex="0"
        aria-label="Chance that strikes are looked for by"
        aria-valuemin="1"
        aria-valuemax="50"
        aria-valuenow={Math.round(100 * shown)}
        aria-valuetext="{Math.round(100 * shown)} %: {met
          .map((m) => `${m.side} about ${numberText(m.strike, 0)}`)
          .join(', ')}"
        class="cursor-ew-resize"
        onkeydown={step}
      >
        <line
          x1={x(shown)}
          x2={x(shown)}
          y1={MARGIN.top}
          y2={height - MARGIN.bottom}
          stroke={palette.own}
          stroke-width="1.4"
        />
        <rect
          x={x(shown) - 17}
          y={height - MARGIN.bottom + 5}
          width="34"
          height="18"
          rx="3"
          fill={palette.paper}
          stroke={palette.own}
          stroke-width="1.4"
        />
        <text x={x(shown)} y={height - MARGIN.bottom + 18} text-anchor="middle" fill={palette.own} font-weight="600"
          >{Math.round(100 * shown)} %</text
        >
        {#each met as m (m.side)}
          <circle cx={x(shown)} cy={y(m.premium)} r="3.4" fill={palette.own} />
          {#if held !== undefined}
            <text
              x={x(shown) + 7}
              y={y(m.premium) + (m.side === 'put' ? 14 : -5)}
              fill={palette.own}
              stroke={palette.paper}
              stroke-width="3"
              paint-order="stroke">{m.side} {strikeText(Math.round(m.strike * 100) / 100)}</text
            >
          {/if}
        {/each}
      </g>
    {/if}
    {#snippet over()}
      {#if read && held === undefined}<Readout {read} {width} top={MARGIN.top} bottom={MARGIN.bottom} />{/if}
    {/snippet}
  </SvgChart>
</div>
