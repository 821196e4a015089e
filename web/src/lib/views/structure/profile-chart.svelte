<!-- Profit by the price of the underlying: now, on a chosen day, and at the first expiry, over the law of the price then. -->
<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area, line } from 'd3-shape';
  import ChartFrame from '$lib/ui/chart-frame.svelte';
  import Readout, { type Read } from '$lib/ui/readout.svelte';
  import { CHART_FONT } from '$lib/ui/chart';
  import { labelColumn } from '$lib/ui/label-column';
  import { svgPicture } from '$lib/ui/svg-picture';
  import { numberText, signedText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import type { Palette } from '$lib/ui/palette';
  import type { Profile, ProfileLine } from './profile';

  interface Props {
    profile: Profile;
    /** Of the underlying now */
    price: number;
    label: string;
    decimals: number;
    currency: string;
    palette: Palette;
  }
  let { profile, price, label, decimals, currency, palette }: Props = $props();
  const MARGIN = { left: 64, right: 74, top: 26, bottom: 28 };
  const LABEL = 14;
  /** Share of the height that the law takes at its mode. */
  const LAW = 0.3;
  const PAD = 0.08;
  let width = $state(900);
  let height = $state(320);
  let drawing = $state<SVGSVGElement>();
  let pointed = $state<number>();

  const color = (l: ProfileLine) => (l.id === 'front' ? palette.ink : l.id === 'day' ? palette.own : palette.implied);
  const x = $derived(
    scaleLinear()
      .domain([profile.prices[0], profile.prices[profile.prices.length - 1]])
      .range([MARGIN.left, Math.max(MARGIN.left + 1, width - MARGIN.right)]),
  );
  const y = $derived.by(() => {
    const all = [0, ...profile.lines.flatMap((l) => l.profits)];
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
          .y((v) => y(v))(l.profits) ?? '',
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
    const last = profile.lines.map((l) => ({ l, wanted: y(l.profits[l.profits.length - 1]) }));
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
    if (pointed === undefined || profile.lines.length === 0) return undefined;
    const at = x.invert(pointed);
    if (at < x.domain()[0] || at > x.domain()[1]) return undefined;
    const near = profile.prices.reduce(
      (best, p, i) => (Math.abs(p - at) < Math.abs(profile.prices[best] - at) ? i : best),
      0,
    );
    return {
      at: x(profile.prices[near]),
      title: `at ${numberText(profile.prices[near], decimals)}`,
      rows: profile.lines.map((l) => ({ name: l.name, text: signedText(l.profits[near], 0), color: color(l) })),
    };
  });
  const description = $derived(
    profile.lines
      .map((l) => {
        const [least, most] = [Math.min(...l.profits), Math.max(...l.profits)];
        return `${l.name}: between ${signedText(least, 0)} and ${signedText(most, 0)} ${currency}`;
      })
      .join('; '),
  );
  const table = () => ({
    header: ['price', ...profile.lines.map((l) => l.name)],
    rows: profile.prices.map((p, i) => [p, ...profile.lines.map((l) => l.profits[i])]),
  });
</script>

<ChartFrame {label} {description} {table} picture={(format) => svgPicture(drawing, format, { width, height })}>
  <div class="absolute inset-0" bind:clientWidth={width} bind:clientHeight={height}>
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
      <text x="2" y="13" fill={palette.soft}>profit, {currency}</text>
      <path d={law} fill={palette.implied} fill-opacity="0.12" data-testid="silhouette" />
      {#each ticks as t (t)}
        <line
          x1={MARGIN.left}
          x2={width - MARGIN.right}
          y1={y(t)}
          y2={y(t)}
          stroke={t === 0 ? palette.ink : palette.hair}
          stroke-width={t === 0 ? 1.2 : 1}
        />
        <text x={MARGIN.left - 6} y={y(t) + 4} text-anchor="end" fill={palette.soft}>{words(t)}</text>
      {/each}
      {#each across as t (t)}
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
      <text x={x(price)} y={MARGIN.top - 5} text-anchor="middle" fill={palette.soft}>{numberText(price, decimals)}</text
      >
      {#each paths as l (l.id)}
        <path
          d={l.d}
          fill="none"
          stroke={color(l)}
          stroke-width={l.id === 'front' ? 2.2 : 1.5}
          stroke-dasharray={l.id === 'now' ? '2 3' : undefined}
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
    </svg>
    {#if read}<Readout {read} {width} top={MARGIN.top} bottom={MARGIN.bottom} />{/if}
  </div>
</ChartFrame>
