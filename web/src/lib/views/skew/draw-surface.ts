import { expiryColor, type Palette } from '../../ui/palette.ts';
import type { SurfaceGrid } from '../../theory/index.ts';
import { contourOf, heightOf, type Point2d, project, projectGrid, type View3d } from './project-surface.ts';

/** Where something is read, by row and column of the grid. */
export interface GridPlace {
  row: number;
  column: number;
}

export interface SurfaceLook {
  view: View3d;
  palette: Palette;
  /** Date of the expiry in focus */
  focus: string | undefined;
  /** Levels of contours and ticks */
  ticks: readonly number[];
  /** How values, distances and expiries are written */
  valueText: (value: number) => string;
  distanceText: (logMoneyness: number) => string;
  dateText: (row: number) => string;
  read: GridPlace | undefined;
}

const FLOOR = [
  [-1, -1],
  [1, -1],
  [1, 1],
  [-1, 1],
] as const;
/** Between two names along an edge, at least, pixels. */
const NAME_GAP = 30;

function trace(context: CanvasRenderingContext2D, line: readonly (Point2d | undefined)[], isClosed = false): void {
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
  if (isClosed) context.closePath();
}

/** Edges of the box's floor with the names along them, and the scale at the corner farthest to the left. */
function drawBox(context: CanvasRenderingContext2D, grid: SurfaceGrid, o: SurfaceLook): void {
  const { view, palette } = o;
  context.strokeStyle = palette.line;
  context.lineWidth = 1;
  trace(
    context,
    FLOOR.map(([x, y]) => project(x, y, -1, view)),
    true,
  );
  context.stroke();
  context.fillStyle = palette.soft;
  context.textAlign = 'center';
  const last = grid.logMoneyness.length - 1;
  for (const share of [0, 0.25, 0.5, 0.75, 1]) {
    const p = project(2 * share - 1, -1.12, -1, view);
    context.fillText(o.distanceText(grid.logMoneyness[Math.round(share * last)]), p.x, p.y + 4);
  }
  const days = grid.expiries.map((e) => Math.sqrt(e.days));
  const [near, far] = [days[0], days[days.length - 1]];
  const placed: Point2d[] = [];
  grid.expiries.forEach((_, row) => {
    const p = project(1.18, (2 * (days[row] - near)) / (far - near || 1) - 1, -1, view);
    if (placed.some((other) => Math.hypot((p.x - other.x) / 1.6, 2 * (p.y - other.y)) < NAME_GAP)) return;
    placed.push(p);
    context.fillText(o.dateText(row), p.x, p.y + 4);
  });
  // The scale stands where nothing hides it.
  const [x, y] = FLOOR.reduce((a, b) => (project(b[0], b[1], -1, view).x < project(a[0], a[1], -1, view).x ? b : a));
  trace(context, [project(x, y, -1, view), project(x, y, 1, view)]);
  context.stroke();
  context.textAlign = 'right';
  for (const tick of o.ticks) {
    const p = project(x, y, heightOf(tick, grid.range), view);
    trace(context, [p, { ...p, x: p.x - 4 }]);
    context.stroke();
    context.fillText(o.valueText(tick), p.x - 7, p.y + 4);
  }
}

/** The surface in its box: cells from far to near, contours on them, a line an expiry, marks where a value leaves the range. */
export function drawHills(context: CanvasRenderingContext2D, grid: SurfaceGrid, o: SurfaceLook): void {
  const { palette } = o;
  const points = projectGrid(grid, o.view);
  drawBox(context, grid, o);
  const cells = points.slice(0, -1).flatMap((row, r) =>
    row.slice(0, -1).flatMap((_, c) => {
      const around = [
        [r, c],
        [r, c + 1],
        [r + 1, c + 1],
        [r + 1, c],
      ];
      const corners = around.flatMap(([i, j]) => {
        const point = points[i][j];
        return point ? [{ point, value: grid.values[i][j] }] : [];
      });
      if (corners.length < 3) return [];
      return [{ corners, row: r, depth: corners.reduce((sum, { point }) => sum + point.depth, 0) / corners.length }];
    }),
  );
  // The far ones first, so that the near ones hide them.
  cells.sort((a, b) => b.depth - a.depth);
  for (const { corners, row } of cells) {
    trace(
      context,
      corners.map(({ point }) => point),
      true,
    );
    context.globalAlpha = 0.82;
    context.fillStyle = palette.paper;
    context.fill();
    context.globalAlpha = 0.16;
    context.fillStyle = expiryColor(grid.expiries[row].days, palette);
    context.fill();
    context.globalAlpha = 1;
    context.strokeStyle = palette.hair;
    context.lineWidth = 0.6;
    context.stroke();
    context.strokeStyle = palette.soft;
    context.lineWidth = 0.8;
    for (const tick of o.ticks)
      for (const ends of contourOf(corners, tick)) {
        trace(context, ends);
        context.stroke();
      }
  }
  points.forEach((row, r) => {
    const e = grid.expiries[r];
    context.strokeStyle = expiryColor(e.days, palette);
    context.lineWidth = e.date === o.focus ? 2.6 : 1.4;
    trace(context, row);
    context.stroke();
    row.forEach((p, c) => p && drawCut(context, p, grid.values[r][c], grid.range, palette));
  });
  const at = o.read && points[o.read.row]?.[o.read.column];
  if (at) drawRead(context, at, palette);
}

/** A triangle where a value lies beyond the range, up or down as it goes. */
function drawCut(
  context: CanvasRenderingContext2D,
  { x, y }: Point2d,
  value: number,
  [low, high]: [number, number],
  palette: Palette,
): void {
  if (value >= low && value <= high) return;
  const up = value > high ? -1 : 1;
  context.fillStyle = palette.ink;
  context.beginPath();
  context.moveTo(x - 3.5, y);
  context.lineTo(x + 3.5, y);
  context.lineTo(x, y + 6 * up);
  context.fill();
}

function drawRead(context: CanvasRenderingContext2D, { x, y }: Point2d, palette: Palette): void {
  context.strokeStyle = palette.ink;
  context.fillStyle = palette.paper;
  context.lineWidth = 1.6;
  context.beginPath();
  context.arc(x, y, 5, 0, 2 * Math.PI);
  context.fill();
  context.stroke();
}

/** Frame of the heatmap, pixels. */
const HEAT = { left: 74, right: 78, top: 30, bottom: 40 };

/** Cells of the heatmap on the screen. */
export function heatCells(grid: SurfaceGrid, { width, height }: Pick<View3d, 'width' | 'height'>) {
  const across = (width - HEAT.left - HEAT.right) / grid.logMoneyness.length;
  const down = (height - HEAT.top - HEAT.bottom) / grid.values.length;
  return {
    ...{ across, down },
    box: ({ row, column }: GridPlace) => ({ x: HEAT.left + column * across, y: HEAT.top + row * down }),
    placeAt: (x: number, y: number): GridPlace | undefined => {
      const place = { row: Math.floor((y - HEAT.top) / down), column: Math.floor((x - HEAT.left) / across) };
      return Number.isNaN(grid.values[place.row]?.[place.column] ?? NaN) ? undefined : place;
    },
  };
}

/** The same from above: darker is higher, with the scale at the right. */
export function drawHeatmap(context: CanvasRenderingContext2D, grid: SurfaceGrid, o: SurfaceLook): void {
  const { palette, view } = o;
  const { width, height } = view;
  const cells = heatCells(grid, view);
  const shade = (value: number) => 0.06 + 0.47 * (1 + heightOf(value, grid.range));
  grid.values.forEach((values, row) => {
    values.forEach((value, column) => {
      if (Number.isNaN(value)) return;
      const { x, y } = cells.box({ row, column });
      context.globalAlpha = shade(value);
      context.fillStyle = palette.implied;
      context.fillRect(x, y, cells.across - 0.5, cells.down - 1);
      context.globalAlpha = 1;
      drawCut(context, { x: x + cells.across / 2, y: y + cells.down / 2, depth: 0 }, value, grid.range, palette);
    });
    context.globalAlpha = 1;
    context.fillStyle = palette.ink;
    context.textAlign = 'right';
    if (cells.down >= 12 || row % 2 === 0)
      context.fillText(o.dateText(row), HEAT.left - 8, cells.box({ row, column: 0 }).y + cells.down / 2 + 4);
  });
  context.fillStyle = palette.soft;
  context.textAlign = 'center';
  for (let column = 0; column < grid.logMoneyness.length; column += 8) {
    const x = cells.box({ row: 0, column }).x + cells.across / 2;
    context.fillText(o.distanceText(grid.logMoneyness[column]), x, height - HEAT.bottom + 16);
  }
  // The scale: shades by value, with the ticks beside them.
  const [left, foot, top] = [width - HEAT.right + 18, height - HEAT.bottom, HEAT.top];
  const steps = 40;
  for (let i = 0; i < steps; i++) {
    context.globalAlpha = 0.06 + (0.94 * (i + 0.5)) / steps;
    context.fillStyle = palette.implied;
    context.fillRect(left, foot - ((i + 1) * (foot - top)) / steps, 10, (foot - top) / steps + 0.5);
  }
  context.globalAlpha = 1;
  context.fillStyle = palette.soft;
  context.textAlign = 'left';
  for (const tick of o.ticks) {
    const y = foot - ((foot - top) * (1 + heightOf(tick, grid.range))) / 2;
    context.fillText(o.valueText(tick), left + 14, y + 4);
  }
  if (!o.read) return;
  const { x, y } = cells.box(o.read);
  context.strokeStyle = palette.ink;
  context.lineWidth = 1.6;
  context.strokeRect(x, y, cells.across, cells.down);
}
