<!-- The surface over strikes and expiries, turned by hand or key, one line an expiry; and the same as a heatmap. -->
<script lang="ts">
  import TheoryTrouble from '../../shell/theory-trouble.svelte';
  import { expiryColor, PALETTES } from '$lib/ui/palette';
  import { dateText, numberText } from '$lib/ui/format';
  import { type Point2d, project, projectGrid } from './project-surface';
  import { SURFACE_VALUES, surfaceGreeks, type SurfaceGrid, surfaceGrid, type SurfaceValue } from '$lib/theory';
  import { pageState } from '$lib/shell/page-state.svelte';
  import { askTheory } from '$lib/theory/thread';
  import { LatestAnswer } from '$lib/ui/latest-answer.svelte';
  import { quotedViewState } from '$lib/shell/view-state.svelte';

  const FLOOR = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ] as const;
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
  let value = $state<SurfaceValue>('volatility');
  let isFlat = $state(false);
  let turn = $state(-0.6);
  let tilt = $state(0.5);
  let width = $state(800);
  let height = $state(500);
  let canvas = $state<HTMLCanvasElement>();
  let hasFont = $state(false);
  const palette = $derived(PALETTES[page.theme]);
  const isGreek = $derived(value !== 'volatility' && value !== 'interest');
  const request = $derived({ expiries: view.shown, value });
  let trouble = $state<string>();
  /** American Greeks take a while: their European equivalents stand in, dimmed. */
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
  const isProvisional = $derived(isGreek && !answered);
  const grid = $derived(
    value === 'volatility' || value === 'interest'
      ? surfaceGrid(view.shown, value)
      : (answered ?? surfaceGreeks(view.shown, value, true)),
  );
  const text = (v: number) =>
    value === 'volatility' ? numberText(v * 100, 1) : numberText(v, value === 'interest' ? 0 : v >= 10 ? 1 : 3);

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
    if (isFlat) drawHeat(context);
    else drawSurface(context);
  });

  function drawSurface(context: CanvasRenderingContext2D): void {
    const o = { turn, tilt, width, height };
    const points = projectGrid(grid, o);
    drawFloor(context);
    const cells: { corners: Point2d[]; row: number; depth: number }[] = [];
    for (let r = 0; r + 1 < points.length; r++) {
      for (let c = 0; c + 1 < points[r].length; c++) {
        const corners = [points[r][c], points[r][c + 1], points[r + 1][c + 1], points[r + 1][c]].filter(
          (p) => p !== undefined,
        );
        if (corners.length < 3) continue;
        cells.push({ corners, row: r, depth: corners.reduce((sum, p) => sum + p.depth, 0) / corners.length });
      }
    }
    // The far ones first, so that the near ones hide them.
    cells.sort((a, b) => b.depth - a.depth);
    const trace = (line: (Point2d | undefined)[]) => {
      context.beginPath();
      let isDown = false;
      for (const p of line) {
        if (p === undefined) isDown = false;
        else if (isDown) context.lineTo(p.x, p.y);
        else {
          context.moveTo(p.x, p.y);
          isDown = true;
        }
      }
      context.stroke();
    };
    for (const { corners, row } of cells) {
      context.beginPath();
      corners.forEach((p, i) => (i === 0 ? context.moveTo(p.x, p.y) : context.lineTo(p.x, p.y)));
      context.closePath();
      context.globalAlpha = 0.82;
      context.fillStyle = palette.paper;
      context.fill();
      context.globalAlpha = 0.16;
      context.fillStyle = expiryColor(grid.expiries[row].days, palette);
      context.fill();
      context.globalAlpha = 1;
      context.strokeStyle = palette.line;
      context.lineWidth = 0.6;
      context.stroke();
    }
    points.forEach((row, r) => {
      const e = grid.expiries[r];
      context.strokeStyle = expiryColor(e.days, palette);
      context.lineWidth = e.date === view.focus?.date ? 2.6 : 1.4;
      trace(row);
    });
  }

  /** Edges of the box's floor with the axes' names, and the height's ends. */
  function drawFloor(context: CanvasRenderingContext2D): void {
    const o = { turn, tilt, width, height };
    const corners = FLOOR.map(([x, y]) => project(x, y, -1, o));
    context.strokeStyle = palette.line;
    context.lineWidth = 1;
    context.beginPath();
    corners.forEach((p, i) => (i === 0 ? context.moveTo(p.x, p.y) : context.lineTo(p.x, p.y)));
    context.closePath();
    context.stroke();
    context.fillStyle = palette.soft;
    context.textAlign = 'center';
    const last = grid.logMoneyness.length - 1;
    for (const share of [0, 0.25, 0.5, 0.75, 1]) {
      const p = project(2 * share - 1, -1.12, -1, o);
      const percent = Math.expm1(grid.logMoneyness[Math.round(share * last)]) * 100;
      context.fillText(`${percent > 0 ? '+' : ''}${percent.toFixed(0)} %`, p.x, p.y + 4);
    }
    const days = grid.expiries.map((e) => Math.sqrt(e.days));
    const [near, far] = [days[0], days[days.length - 1]];
    let before: Point2d | undefined;
    grid.expiries.forEach((e, r) => {
      const p = project(1.16, (2 * (days[r] - near)) / (far - near || 1) - 1, -1, o);
      if (before && Math.hypot(p.x - before.x, p.y - before.y) < 26) return;
      before = p;
      context.fillText(dateText(e.date, view.picture.asOf), p.x, p.y + 4);
    });
    // The height stands at the corner farthest to the left, where nothing hides it.
    const [x, y] = FLOOR.reduce((a, b) => (project(b[0], b[1], -1, o).x < project(a[0], a[1], -1, o).x ? b : a));
    const [foot, head] = [project(x, y, -1, o), project(x, y, 1, o)];
    context.beginPath();
    context.moveTo(foot.x, foot.y);
    context.lineTo(head.x, head.y);
    context.stroke();
    context.textAlign = 'right';
    context.fillText(text(grid.range[0]), foot.x - 6, foot.y - 6);
    context.fillText(text(grid.range[1]), head.x - 6, head.y + 4);
  }

  function drawHeat(context: CanvasRenderingContext2D): void {
    const [left, right, top, bottom] = [74, width - 20, 14, height - 26];
    const rows = grid.values.length;
    const columns = grid.logMoneyness.length;
    const cell = { w: (right - left) / columns, h: (bottom - top) / rows };
    const [low, high] = grid.range;
    grid.values.forEach((row, r) => {
      row.forEach((v, c) => {
        if (Number.isNaN(v)) return;
        context.globalAlpha = 0.06 + (0.94 * (v - low)) / (high - low || 1);
        context.fillStyle = palette.implied;
        context.fillRect(left + c * cell.w, top + r * cell.h, cell.w - 0.5, cell.h - 1);
      });
      context.globalAlpha = 1;
      context.fillStyle = palette.ink;
      context.textAlign = 'right';
      if (cell.h >= 12 || r % 2 === 0)
        context.fillText(dateText(grid.expiries[r].date, view.picture.asOf), left - 8, top + (r + 0.5) * cell.h + 4);
    });
    context.textAlign = 'center';
    context.fillStyle = palette.soft;
    for (let c = 0; c < columns; c += 8) {
      const percent = Math.expm1(grid.logMoneyness[c]) * 100;
      context.fillText(`${percent > 0 ? '+' : ''}${percent.toFixed(0)} %`, left + (c + 0.5) * cell.w, height - 8);
    }
  }

  function drag(event: PointerEvent): void {
    if (event.buttons !== 1) return;
    turn -= event.movementX * 0.008;
    tilt = Math.min(1.4, Math.max(0.05, tilt + event.movementY * 0.006));
  }

  const KEYS: Record<string, () => void> = {
    ArrowLeft: () => (turn += 0.08),
    ArrowRight: () => (turn -= 0.08),
    ArrowUp: () => (tilt = Math.min(1.4, tilt + 0.06)),
    ArrowDown: () => (tilt = Math.max(0.05, tilt - 0.06)),
  };
</script>

{#if grid.expiries.length < 2}
  <p class="quiet p-8 font-serif text-[15px]">
    A surface needs two expiries with a smile. Click them in the ribbon, or press <span class="kbd-mark">a</span> for all.
  </p>
{:else}
  <div class="flex h-full min-h-[420px] flex-col">
    <div class="flex items-center gap-3">
      <div class="segment" role="group" aria-label="Height of the surface">
        {#each SURFACE_VALUES as name (name)}
          <button type="button" aria-pressed={value === name} onclick={() => (value = name)}>{name}</button>
        {/each}
      </div>
      <div class="segment" role="group" aria-label="Surface or heatmap">
        <button type="button" aria-pressed={!isFlat} onclick={() => (isFlat = false)}>surface</button>
        <button type="button" aria-pressed={isFlat} onclick={() => (isFlat = true)}>heatmap</button>
      </div>
      <span class="quiet text-[11.5px]"
        >{names[value]}, {text(grid.range[0])} to {text(grid.range[1])}{isFlat
          ? ''
          : ' · drag or arrow keys turn it'}</span
      >
    </div>
    <div
      class="min-h-0 grow cursor-grab touch-none"
      bind:clientWidth={width}
      bind:clientHeight={height}
      role="slider"
      aria-valuenow={Math.round((turn * 180) / Math.PI)}
      aria-valuetext="turned by {Math.round((turn * 180) / Math.PI)} degrees"
      aria-label="Surface of {names[value]} by strike and expiry; arrow keys turn it"
      tabindex="0"
      onpointermove={drag}
      onkeydown={(event) => {
        if (!KEYS[event.key] || event.altKey) return;
        event.preventDefault();
        KEYS[event.key]();
      }}
    >
      <canvas
        bind:this={canvas}
        class="h-full w-full {isProvisional ? 'opacity-50' : ''}"
        aria-busy={isProvisional}
        data-turn={turn.toFixed(2)}
      ></canvas>
      <TheoryTrouble {trouble} />
    </div>
  </div>
{/if}
