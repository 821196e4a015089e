<!-- What all open calls and puts of an expiry would be worth by settlement price, and where together they are worth least. -->
<script lang="ts">
  import { leastWorthLevel, settledWorths } from '@umwelt/core/probability';
  import { scaleLinear } from 'd3-scale';
  import { line } from 'd3-shape';
  import SvgChart from '$lib/ui/svg-chart.svelte';
  import ValueLines from '$lib/ui/value-lines.svelte';
  import Readout, { type Read } from '$lib/ui/readout.svelte';
  import { countedText, dateText, numberText, probabilityText, signedText, strikeText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import type { Palette } from '$lib/ui/palette';
  import type { InterestRecord } from '$lib/api/interest-record';
  import type { ExpiryPicture } from '$lib/api/picture';

  interface Props {
    expiry: ExpiryPicture;
    asOf: string;
    multiplier: number;
    currency: string;
    palette: Palette;
    /** Of expiries that are over */
    past: InterestRecord | undefined;
  }
  let { expiry, asOf, multiplier, currency, palette, past }: Props = $props();
  const MARGIN = { left: 52, right: 58, top: 24, bottom: 30 };
  const MILLION = 1e6;
  let width = $state(900);
  let height = $state(220);
  let pointed = $state<number>();
  const worths = $derived(
    settledWorths({
      strikes: expiry.strikes,
      call: expiry.call.openInterest.map((v) => v ?? NaN),
      put: expiry.put.openInterest.map((v) => v ?? NaN),
    }).map((w) => ({ ...w, calls: (w.calls * multiplier) / MILLION, puts: (w.puts * multiplier) / MILLION })),
  );
  const least = $derived(leastWorthLevel(worths));
  /** Options whose open interest nobody told: they are left out, and that is said. */
  const unknown = $derived([...expiry.call.openInterest, ...expiry.put.openInterest].filter((v) => v === null).length);
  const x = $derived(
    scaleLinear()
      .domain([expiry.strikes[0] ?? 0, expiry.strikes[expiry.strikes.length - 1] ?? 1])
      .range([MARGIN.left, width - MARGIN.right]),
  );
  const y = $derived(
    scaleLinear()
      .domain([0, Math.max(...worths.map((w) => w.calls + w.puts), 1e-9)])
      .nice(4)
      .range([height - MARGIN.bottom, MARGIN.top]),
  );
  const ticks = $derived(y.ticks(4));
  const words = $derived(tickText(ticks));
  const prices = $derived(x.ticks(7));
  type Worth = (typeof worths)[number];
  const path = (of: (w: Worth) => number) =>
    line<Worth>()
      .x((w) => x(w.price))
      .y((w) => y(of(w)))(worths);
  const lines = $derived([
    { name: 'calls', d: path((w) => w.calls), of: (w: Worth) => w.calls, dash: undefined },
    { name: 'puts', d: path((w) => w.puts), of: (w: Worth) => w.puts, dash: '5 3' },
    { name: 'both', d: path((w) => w.calls + w.puts), of: (w: Worth) => w.calls + w.puts, dash: undefined },
  ]);
  const read = $derived.by((): Read | undefined => {
    if (pointed === undefined || worths.length === 0) return undefined;
    const at = x.invert(pointed);
    const near = worths.reduce((a, b) => (Math.abs(b.price - at) < Math.abs(a.price - at) ? b : a));
    const text = (v: number) => `${numberText(v, 1)} m`;
    return {
      at: x(near.price),
      title: `settled at ${strikeText(near.price)}`,
      rows: lines.map((l) => ({
        name: l.name,
        text: text(l.of(near)),
        color: l.name === 'both' ? palette.ink : palette.soft,
      })),
    };
  });
  const table = () => ({
    header: ['settlement', `calls, million ${currency}`, `puts, million ${currency}`],
    rows: worths.map((w) => [w.price, w.calls, w.puts]),
  });
  const distance = $derived(least ? (100 * (least.price - expiry.underlyingPrice)) / expiry.underlyingPrice : NaN);
</script>

{#if least}
  <p class="quiet mb-1 text-[12.5px]">
    Open options of {dateText(expiry.date, asOf)} together are worth least at
    <span class="text-ink font-semibold" data-testid="least-worth">{strikeText(least.price)}</span>, {signedText(
      distance,
      1,
    )} % from the price. Nothing holds the price there: what open contracts there are does not say who holds them.
    {#if unknown > 0}The open interest of {countedText(unknown, 'option')} is unknown and left out.{/if}
  </p>
{:else}
  <p class="quiet mb-1 text-[12.5px]">No open interest is stored of {dateText(expiry.date, asOf)}.</p>
{/if}
{#if past && past.count > 0}
  <p class="quiet mb-1 text-[12.5px]" data-testid="interest-record">
    Of {countedText(past.count, 'expiry', 'expiries')} that are over, looked at {past.sessions} sessions before, {past.near}
    settled within {numberText(past.reach, 2)} deviations of that price; chance alone gives {numberText(
      past.expected,
      1,
    )}
    (as many or more: {probabilityText(past.chance)}).
  </p>
{/if}
<div class="relative h-[220px]">
  <SvgChart
    label="Worth of open options by settlement"
    description={least
      ? `Open options are worth least at ${strikeText(least.price)}: ${numberText(least.calls + least.puts, 1)} million ${currency}.`
      : 'No open interest.'}
    {table}
    bind:width
    bind:height
    onpointermove={(event) => (pointed = event.offsetX)}
    onpointerleave={() => (pointed = undefined)}
  >
    <text x="2" y="12" fill={palette.soft}>worth by settlement, million {currency}</text>
    <ValueLines {ticks} {y} from={MARGIN.left} to={width - MARGIN.right} text={words} {palette} />
    {#each prices as p (p)}
      <text x={x(p)} y={height - 10} text-anchor="middle" fill={palette.soft}>{strikeText(p)}</text>
    {/each}
    {#each lines as l (l.name)}
      <path
        d={l.d}
        fill="none"
        stroke={l.name === 'both' ? palette.ink : palette.soft}
        stroke-width={l.name === 'both' ? 1.6 : 1.2}
        stroke-dasharray={l.dash}
      />
    {/each}
    {#if worths.length > 0}
      {@const first = worths[0]}
      {@const last = worths[worths.length - 1]}
      <text x={x(last.price) + 5} y={y(last.calls) + 4} fill={palette.soft}>calls</text>
      <text
        x={x(first.price) + 6}
        y={y(first.puts) + 16}
        fill={palette.soft}
        stroke={palette.paper}
        stroke-width="3"
        paint-order="stroke">puts</text
      >
    {/if}
    <line
      x1={x(expiry.underlyingPrice)}
      x2={x(expiry.underlyingPrice)}
      y1={MARGIN.top}
      y2={height - MARGIN.bottom}
      stroke={palette.faint}
      stroke-dasharray="2 3"
    />
    <text x={x(expiry.underlyingPrice)} y={MARGIN.top + 10} dx="4" fill={palette.soft}>price</text>
    {#if least}
      <path
        d="M{x(least.price)},{y(least.calls + least.puts) - 5}l5,5l-5,5l-5,-5z"
        fill={palette.implied}
        data-testid="least-worth-mark"
      />
    {/if}
    {#snippet over()}
      {#if read}<Readout {read} {width} top={MARGIN.top} bottom={MARGIN.bottom} />{/if}
    {/snippet}
  </SvgChart>
</div>
