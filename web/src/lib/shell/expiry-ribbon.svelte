<!-- Expiries on a square-root-of-time axis; the height of a node is its at-the-money volatility. -->
<script lang="ts">
  import { Tooltip } from 'bits-ui';
  import { scaleLinear, scaleSqrt } from 'd3-scale';
  import type { ExpiryOverview } from '$lib/api/picture';
  import { labelRows } from '$lib/ui/label-rows';
  import { expiryColor, PALETTES } from '$lib/ui/palette';
  import { dateText, volatilityText, percentileText } from '$lib/ui/format';
  import { pageState } from './page-state.svelte';
  import { viewState } from './view-state.svelte';

  /** Between two nodes, pixels: what a finger needs (WCAG 2.5.8). */
  const LEAST_GAP = 25;
  /** Mean width of a letter, and room that a volatility takes beside its node, pixels. */
  const LETTER = 6;
  const VALUE_ROOM = 42;

  /** Free behind the last node, for its volatility, pixels. */
  const END = 64;

  const view = viewState();
  const page = pageState();
  let width = $state(1100);
  const palette = $derived(PALETTES[page.theme]);
  const expiries = $derived(view.picture.expiries);
  const shown = $derived(new Set(view.shown.map((e) => e.date)));
  const last = $derived(expiries.at(-1)?.days ?? 30);
  /** Places of the nodes: a square root of time, with the nearest pushed apart so that each can be clicked. */
  const places = $derived.by(() => {
    const scale = scaleSqrt()
      .domain([0, last])
      .range([20, Math.max(200, width - END)]);
    const nodes: { days: number; at: number }[] = [{ days: 0, at: Math.min(20, scale(expiries[0]?.days ?? 0) - 4) }];
    for (const e of expiries)
      nodes.push({ days: e.days, at: Math.max(scale(e.days), nodes[nodes.length - 1].at + LEAST_GAP) });
    return nodes;
  });
  const x = $derived(
    scaleLinear()
      .domain(places.map((p) => p.days))
      .range(places.map((p) => p.at)),
  );
  /** As wide as the nodes need: on a narrow screen it is scrolled. */
  const drawnWidth = $derived(Math.max(width, places[places.length - 1].at + END));
  const inLine = $derived(expiries.filter((e) => e.atm !== null && (e.outlier === null || shown.has(e.date))));
  const levels = $derived(inLine.map((e) => e.atm ?? 0));
  const y = $derived(
    scaleLinear()
      .domain([Math.min(...levels), Math.max(...levels)])
      .range([44, 21])
      .clamp(true),
  );
  const line = $derived(inLine.map((e) => `${x(e.days)},${y(e.atm ?? 0)}`).join(' '));
  const events = $derived.by(() => {
    const ahead = view.picture.events
      .map((e) => ({ ...e, days: (Date.parse(e.instant) - Date.parse(view.picture.asOf)) / 86_400_000 }))
      .filter((e) => e.days < last);
    // Below the one row of names stand the volatilities: a flag close before or behind another has no name.
    const rows = labelRows(
      ahead.map((e) => ({ at: x(e.days), text: e.label })),
      1,
    );
    const isClear = (i: number) => {
      const end = i + 1 < ahead.length ? x(ahead[i + 1].days) : width;
      return x(ahead[i].days) + 16 + LETTER * ahead[i].label.length < end;
    };
    return ahead.map((e, i) => ({ ...e, isNamed: rows[i] !== undefined && isClear(i) }));
  });
  /** Dates whose labels fit: focus first, monthlies next, then the rest. */
  const labelled = $derived.by(() => {
    const kept: number[] = [];
    const dates = new Set<string>();
    const order = [...expiries].sort(
      (a, b) =>
        Number(b.date === view.focus?.date) - Number(a.date === view.focus?.date) ||
        Number(b.isMonthly) - Number(a.isMonthly) ||
        a.days - b.days,
    );
    for (const e of order) {
      const at = x(e.days);
      if (kept.some((other) => Math.abs(other - at) < 52)) continue;
      kept.push(at);
      dates.add(e.date);
    }
    return dates;
  });
  /** Side of its node on which a volatility has room; none where neighbors stand close on both. */
  function valueSide(index: number): 'start' | 'end' | undefined {
    const at = x(expiries[index].days);
    const next = index + 1 < expiries.length ? x(expiries[index + 1].days) : Infinity;
    const before = index > 0 ? x(expiries[index - 1].days) : -Infinity;
    if (next - at >= VALUE_ROOM) return 'start';
    return at - before >= VALUE_ROOM ? 'end' : undefined;
  }
  /** The expiry under pointer or keyboard, in words. */
  let told = $state.raw<{ words: string; of: HTMLElement }>();
  function wordsOf(e: ExpiryOverview): string {
    const parts = [dateText(e.date, view.picture.asOf), `${e.days.toFixed(0)} days`, `${volatilityText(e.atm)} %`];
    if (e.standing)
      parts.push(`${percentileText(e.standing.percentile, 'pct')}, rank ${Math.round((e.standing.rank ?? 0) * 100)}`);
    if (e.outlier) parts.push(`out of line: its neighbors imply ${volatilityText(e.outlier.expected)} %`);
    return parts.join(', ');
  }
</script>

<nav aria-label="Expiries" class="border-line flex h-[76px] shrink-0 items-stretch border-b pl-4">
  <div class="flex w-28 shrink-0 flex-col justify-center gap-0.5 text-[11.5px]">
    <span class="quiet">Expiries</span>
    <span class="quiet">{view.shown.length} of {expiries.length} shown</span>
    <span class="flex gap-2">
      <button type="button" class="text-implied" onclick={() => view.stepping.showExpiries('monthly')}>monthly</button>
      <button type="button" class="text-implied" onclick={() => view.stepping.showExpiries('all')}>all</button>
      <button type="button" class="text-implied" onclick={() => view.stepping.showExpiries('none')}>none</button>
    </span>
  </div>
  <div class="relative min-w-0 grow overflow-x-auto overflow-y-hidden" bind:clientWidth={width}>
    <svg width={drawnWidth} height="75" class="block" role="presentation">
      <line x1="0" x2={drawnWidth} y1="55" y2="55" stroke="var(--line)" />
      <polyline points={line} fill="none" stroke="var(--faint)" stroke-dasharray="2 3" />
      {#each events as event (event.instant + event.label)}
        <line x1={x(event.days)} x2={x(event.days)} y1="5" y2="55" stroke="var(--event)" />
        <path d="M{x(event.days)},4 h9 l-2.5,3.5 l2.5,3.5 h-9 z" fill="var(--event)" />
        {#if event.isNamed}
          <text x={x(event.days) + 12} y="11" class="chart-word" font-size="11.5" fill="var(--event)"
            >{event.label}</text
          >
        {/if}
      {/each}
      {#each expiries as e, i (e.date)}
        {@const isShown = shown.has(e.date)}
        {@const side = valueSide(i)}
        {@const isFocus = e.date === view.focus?.date}
        {@const color = expiryColor(e.days, palette)}
        <line x1={x(e.days)} x2={x(e.days)} y1="55" y2="58" stroke="var(--faint)" />
        {#if isFocus}<circle cx={x(e.days)} cy={y(e.atm ?? 0)} r="8.5" fill="var(--paper)" stroke="var(--ink)" />{/if}
        <circle
          cx={x(e.days)}
          cy={y(e.atm ?? 0)}
          r={isFocus ? 5.5 : 4.5}
          fill={isShown ? color : 'var(--paper)'}
          stroke={isShown ? color : 'var(--faint)'}
          stroke-width="1.5"
          stroke-dasharray={e.outlier ? '2 2' : undefined}
        />
        {#if labelled.has(e.date)}
          {#if side}
            <text
              x={x(e.days) + (side === 'start' ? 10 : -10)}
              y={y(e.atm ?? 0) + 4}
              font-size="11.5"
              text-anchor={side}
              class="chart-word"
              fill={isShown ? 'var(--ink)' : 'var(--soft)'}>{volatilityText(e.atm)}</text
            >
          {/if}
          <text
            x={x(e.days)}
            y="70"
            font-size="11.5"
            text-anchor="middle"
            fill={isShown ? 'var(--ink)' : 'var(--soft)'}
            font-weight={isFocus ? 700 : 400}>{dateText(e.date, view.picture.asOf)}</text
          >
        {/if}
      {/each}
    </svg>
    {#each expiries as e (e.date)}
      <button
        type="button"
        class="absolute top-3 h-14 w-6 -translate-x-1/2"
        style:left="{x(e.days)}px"
        aria-pressed={shown.has(e.date)}
        aria-current={e.date === view.focus?.date ? 'true' : undefined}
        aria-label={wordsOf(e)}
        onpointerenter={(event) => (told = { words: wordsOf(e), of: event.currentTarget })}
        onpointerleave={() => (told = undefined)}
        onfocus={(event) => (told = { words: wordsOf(e), of: event.currentTarget })}
        onblur={() => (told = undefined)}
        onclick={() => view.stepping.clickExpiry(e.date)}
      ></button>
    {/each}
  </div>
</nav>
<!-- One for all: a tooltip of each expiry would be drawn with every step. -->
<Tooltip.Provider>
  <Tooltip.Root open={told !== undefined}>
    <Tooltip.Portal>
      <Tooltip.Content class="tooltip-words" customAnchor={told?.of ?? null} sideOffset={2}
        >{told?.words}<br /><span class="quiet">click: in focus; again: taken out</span></Tooltip.Content
      >
    </Tooltip.Portal>
  </Tooltip.Root>
</Tooltip.Provider>
