<!-- The surface over strikes and expiries, turned by hand or key, one line an expiry; and the same as a heatmap. -->
<script lang="ts">
  import Choice from '$lib/ui/choice.svelte';
  import TheoryTrouble from '../../shell/theory-trouble.svelte';
  import { PALETTES } from '$lib/ui/palette';
  import ChartFrame from '$lib/ui/chart-frame.svelte';
  import Readout, { type Read } from '$lib/ui/readout.svelte';
  import { dateText, numberText, signedText, significantText, strikeText } from '$lib/ui/format';
  import { tickText } from '$lib/ui/tick-text';
  import { drawHeatmap, drawHills, type GridPlace, heatCells, type SurfaceLook } from './draw-surface';
  import { projectGrid } from './project-surface';
  import { skewParameters, SURFACE_DRAWINGS } from './parameters';
  import { scaleLinear } from 'd3-scale';
  import { SURFACE_VALUES, surfaceGreeks, type SurfaceGrid, surfaceGrid, type SurfaceValue } from '$lib/theory';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { askTheory } from '$lib/theory/thread';
  import { LatestAnswer } from '$lib/ui/latest-answer.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  /** Milliseconds for which a hand rests before the turn is written into the address. */
  const RESTS = 250;
  /** Farther from every point of the surface a pointer reads nothing, pixels. */
  const REACH = 28;
  const FONT = "11.5px 'Source Sans 3 Variable'";
  const view = quotedViewState();
  const page = pageState();
  const names: Record<SurfaceValue, string> = {
    volatility: 'volatility, %',
    interest: 'open interest',
    delta: 'delta',
    gamma: 'gamma per 1 %',
    vega: 'vega per point',
    theta: 'theta per day',
    rho: 'rho per point',
    vanna: 'vanna, delta per point',
    volga: 'volga, vega per point',
    charm: 'charm, delta per day',
  };
  const own = $derived(view.address.own(skewParameters));
  const value = $derived(own.height);
  const isFlat = $derived(own.drawn === 'heatmap');
  /** While a hand or key turns it, degrees; else the address says it. */
  let moving = $state.raw<{ turn: number; tilt: number }>();
  const turn = $derived(((moving?.turn ?? own.turn) * Math.PI) / 180);
  const tilt = $derived(((moving?.tilt ?? own.tilt) * Math.PI) / 180);
  let read = $state.raw<GridPlace>();
  let width = $state(800);
  let height = $state(500);
  let canvas = $state<HTMLCanvasElement>();
  let hasFont = $state(false);
  const palette = $derived(PALETTES[page.theme]);
  const isGreek = $derived(value !== 'volatility' && value !== 'interest');
  const request = $derived({ expiries: view.shown, value });
  let trouble = $state<string>();
  /** American Greeks take a while: until they are there the last ones stay, dimmed, or none. */
  const greeks = new LatestAnswer<typeof request, SurfaceGrid>(
    async ({ expiries, value: wanted }) =>
      wanted === 'volatility' || wanted === 'interest'
        ? surfaceGrid(expiries, wanted)
        : await askTheory((thread) => thread.surfaceGreeks(expiries, wanted)),
    (error) => (trouble = error instanceof Error ? error.message : String(error)),
  );
  $effect(() => {
    if (isGreek) greeks.ask(request);
  });
  const answered = $derived(greeks.answer?.request === request ? greeks.answer.value : undefined);
  const isPending = $derived(isGreek && !answered);
  const before = $derived(greeks.answer?.request.value === value ? greeks.answer.value : undefined);
  const grid = $derived(
    value === 'volatility' || value === 'interest'
      ? surfaceGrid(view.shown, value)
      : (answered ?? before ?? surfaceGreeks(view.shown, value, true)),
  );
  const shownTicks = $derived(scaleLinear(grid.range, [0, 1]).ticks(6));
  const percentTicks = $derived(shownTicks.map((t) => (value === 'volatility' ? 100 * t : t)));
  const written = $derived(tickText(percentTicks));
  const text = (v: number) =>
    value === 'volatility' ? `${numberText(v * 100, 1)} %` : significantText(v, value === 'interest' ? 6 : 3);
  const distanceText = (k: number) => {
    const percent = Math.expm1(k) * 100;
    return `${signedText(percent, Math.abs(percent) > 0.05 && Math.abs(percent) < 10 ? 1 : 0)} %`;
  };
  const expiryText = (row: number) => dateText(grid.expiries[row].date, view.picture.asOf);
  const look = $derived<SurfaceLook>({
    view: { turn, tilt, width, height },
    palette,
    focus: view.focus?.date,
    ticks: shownTicks,
    valueText: (v) => written(value === 'volatility' ? 100 * v : v),
    distanceText,
    dateText: expiryText,
    read,
  });
  /** Where it is read is still there: other expiries may have come. */
  const place = $derived(read && Number.isNaN(grid.values[read.row]?.[read.column] ?? NaN) ? undefined : read);
  const pointOf = ({ row, column }: GridPlace): { x: number } | undefined => {
    if (!isFlat) return projectGrid(grid, look.view)[row]?.[column];
    const cells = heatCells(grid, look.view);
    return { x: cells.box({ row, column }).x + cells.across / 2 };
  };
  const told = $derived.by((): Read | undefined => {
    if (!place) return undefined;
    const e = grid.expiries[place.row];
    const k = grid.logMoneyness[place.column];
    const v = grid.values[place.row][place.column];
    const isBeyond = v < grid.range[0] || v > grid.range[1];
    return {
      at: pointOf(place)?.x ?? 0,
      title: `${expiryText(place.row)}, ${distanceText(k)} from the forward`,
      rows: [
        {
          name: names[value].split(',')[0],
          text: text(v) + (isBeyond ? ', beyond the scale' : ''),
          color: palette.implied,
        },
        { name: 'strike', text: strikeText(Number((e.forward * Math.exp(k)).toPrecision(6))), color: 'transparent' },
      ],
    };
  });

  $effect(() => {
    const context = canvas?.getContext('2d');
    if (!canvas || !context || grid.expiries.length === 0) return;
    const ratio = window.devicePixelRatio || 1;
    canvas.width = width * ratio;
    canvas.height = height * ratio;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, width, height);
    // A canvas takes what is there: it is drawn again once the font is.
    context.font = `${FONT}, sans-serif`;
    if (!hasFont) void document.fonts.load(FONT).then(() => (hasFont = true));
    (isFlat ? drawHeatmap : drawHills)(context, grid, { ...look, read: place });
  });

  const limited = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
  function turnBy(across: number, up: number): void {
    const now = moving ?? { turn: own.turn, tilt: own.tilt };
    // All the way round it is where it was.
    const around = ((((now.turn + across + 180) % 360) + 360) % 360) - 180;
    moving = { turn: around, tilt: limited(now.tilt + up, 3, 80) };
  }
  $effect(() => {
    if (!moving) return;
    const [turned, tilted] = [Math.round(moving.turn), Math.round(moving.tilt)];
    const timer = setTimeout(() => {
      void view.address.set({ turn: String(turned), tilt: String(tilted) }).then(() => (moving = undefined));
    }, RESTS);
    return () => clearTimeout(timer);
  });

  function point(event: PointerEvent): void {
    if (event.buttons === 1 && !isFlat) {
      turnBy(-event.movementX * 0.46, event.movementY * 0.34);
      return;
    }
    const { offsetX: x, offsetY: y } = event;
    if (isFlat) {
      read = heatCells(grid, look.view).placeAt(x, y);
      return;
    }
    let nearest = REACH;
    read = undefined;
    projectGrid(grid, look.view).forEach((row, r) =>
      row.forEach((p, c) => {
        const off = p ? Math.hypot(p.x - x, p.y - y) : Infinity;
        if (off >= nearest) return;
        nearest = off;
        read = { row: r, column: c };
      }),
    );
  }

  /** To the next place that has a value, in a direction; from nowhere to the middle of the expiry in focus. */
  function step(rows: number, columns: number): void {
    if (!place) {
      const focus = grid.expiries.findIndex((e) => e.date === view.focus?.date);
      const row = Math.max(0, focus);
      const known = grid.values[row].flatMap((v, c) => (Number.isNaN(v) ? [] : [c]));
      read = { row, column: known[Math.floor(known.length / 2)] };
      return;
    }
    let { row, column } = place;
    do {
      row += rows;
      column += columns;
      if (row < 0 || column < 0 || row >= grid.values.length || column >= grid.logMoneyness.length) return;
    } while (Number.isNaN(grid.values[row][column]));
    read = { row, column };
  }

  const KEYS: Record<string, [rows: number, columns: number]> = {
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    ArrowUp: [1, 0],
    ArrowDown: [-1, 0],
  };
  function press(event: KeyboardEvent): void {
    const move = event.key in KEYS ? KEYS[event.key] : undefined;
    if (event.key === 'Escape' && read) read = undefined;
    else if (move && !event.altKey) {
      event.preventDefault();
      const [rows, columns] = move;
      // From above the nearest expiry stands at the top.
      if (!event.shiftKey) step(isFlat ? -rows : rows, columns);
      else if (!isFlat) turnBy(-columns * 5, rows * 4);
    }
  }

  const table = () => ({
    header: ['expiry', 'days', 'distance', value],
    rows: grid.values.flatMap((row, r) =>
      row.flatMap((v, c) =>
        Number.isNaN(v) ? [] : [[grid.expiries[r].date, grid.expiries[r].days, Math.expm1(grid.logMoneyness[c]), v]],
      ),
    ),
  });
  const label = $derived(`Surface of ${names[value]} by distance from the forward and expiry`);
</script>

{#if grid.expiries.length < 2}
  <p class="quiet p-8 font-serif text-[15px]">
    A surface needs two expiries with a smile. Click them in the ribbon, or press <span class="kbd-mark">a</span> for all.
  </p>
{:else}
  <div class="flex h-full min-h-[420px] flex-col">
    <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
      <Choice
        label="Height of the surface"
        class="flex-wrap"
        choices={SURFACE_VALUES}
        chosen={value}
        words={(name) => (name === 'interest' ? 'open interest' : name)}
        onchoose={(name) => view.address.set({ height: name === 'volatility' ? undefined : name })}
      />
      <Choice
        label="How it is drawn"
        choices={SURFACE_DRAWINGS}
        chosen={own.drawn}
        onchoose={(drawing) => view.address.set({ drawn: drawing === 'hills' ? undefined : drawing })}
      />
    </div>
    <p class="quiet mt-1 text-[11.5px]" data-testid="surface-says">
      {names[value]}, {text(grid.range[0])} to {text(grid.range[1])}{grid.beyond > 0
        ? `; ${grid.beyond} of ${grid.values.flat().filter((v) => !Number.isNaN(v)).length} values go beyond that, from ${text(grid.extent[0])} to ${text(grid.extent[1])}, marked ▲▼`
        : ''} · arrow keys read{isFlat ? '' : ' · drag, or shift with arrow keys, turns'}
    </p>
    <div class="min-h-0 grow">
      <ChartFrame
        {label}
        description="{label}: {text(grid.range[0])} to {text(grid.range[1])} over {grid.expiries.length} expiries."
        {table}
        picture={() => Promise.resolve(canvas?.toDataURL('image/png') ?? '')}
        hasSvg={false}
      >
        <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
        <div
          class="h-full cursor-grab touch-none"
          bind:clientWidth={width}
          bind:clientHeight={height}
          role="application"
          aria-label="{label}; arrow keys read it, with shift they turn it"
          tabindex="0"
          onpointermove={point}
          onpointerleave={() => (read = undefined)}
          onkeydown={press}
        >
          <canvas
            bind:this={canvas}
            class="h-full w-full {isPending ? 'opacity-50' : ''}"
            aria-busy={isPending}
            data-turn={turn.toFixed(2)}
          ></canvas>
        </div>
        {#if told}<Readout read={told} {width} top={28} bottom={0} hasLine={false} />{/if}
        <p class="sr-only" aria-live="polite">{told ? `${told.title}: ${told.rows[0].text}` : ''}</p>
      </ChartFrame>
      <TheoryTrouble {trouble} />
    </div>
  </div>
{/if}
