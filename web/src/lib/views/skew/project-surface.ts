import type { SurfaceGrid } from '../../theory/index.ts';

export interface View3d {
  /** Turn about the vertical, radians */
  turn: number;
  /** From the side (0) to above (half of pi) */
  tilt: number;
  width: number;
  height: number;
}

export interface Point2d {
  x: number;
  y: number;
  /** Larger is farther away */
  depth: number;
}

/** Height of the box against its width. */
const RISE = 0.62;
const FILL = 0.34;

/** Place on the screen of a point of the unit box: x along strikes, y along expiries, z up, each -1 to 1. */
export function project(x: number, y: number, z: number, o: View3d): Point2d {
  const [c, s] = [Math.cos(o.turn), Math.sin(o.turn)];
  const across = x * c - y * s;
  const away = x * s + y * c;
  const size = FILL * Math.min(o.width, 1.35 * o.height);
  const up = RISE * z * Math.cos(o.tilt) + away * Math.sin(o.tilt) * 0.6;
  return { x: 0.48 * o.width + size * across, y: 0.52 * o.height - size * up, depth: away };
}

/** Corners of the grid on the screen, by row and column; undefined where there is no value. */
export function projectGrid(grid: SurfaceGrid, o: View3d): (Point2d | undefined)[][] {
  const [low, high] = grid.range;
  const days = grid.expiries.map((e) => Math.sqrt(e.days));
  const [near, far] = [days[0] ?? 0, days[days.length - 1] ?? 1];
  const last = grid.logMoneyness.length - 1;
  return grid.values.map((row, r) =>
    row.map((value, c) =>
      Number.isNaN(value)
        ? undefined
        : project(
            (2 * c) / last - 1,
            (2 * (days[r] - near)) / (far - near || 1) - 1,
            (2 * (value - low)) / (high - low || 1) - 1,
            o,
          ),
    ),
  );
}
