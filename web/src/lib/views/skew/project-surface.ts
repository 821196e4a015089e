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
const RISE = 0.78;
const FILL = 0.34;

/** Place on the screen of a point of the unit box: x along strikes, y along expiries, z up, each -1 to 1. */
export function project(x: number, y: number, z: number, o: View3d): Point2d {
  const [c, s] = [Math.cos(o.turn), Math.sin(o.turn)];
  const across = x * c - y * s;
  const away = x * s + y * c;
  const size = FILL * Math.min(o.width, 1.35 * o.height);
  const up = RISE * z * Math.cos(o.tilt) + away * Math.sin(o.tilt) * 0.6;
  return { x: 0.48 * o.width + size * across, y: 0.48 * o.height - size * up, depth: away };
}

/** Height in the box of a value; what lies beyond the range stands at its end. */
export function heightOf(value: number, [low, high]: [number, number]): number {
  return Math.max(-1, Math.min(1, (2 * (value - low)) / (high - low || 1) - 1));
}

/** Corners of the grid on the screen, by row and column; undefined where there is no value. */
export function projectGrid(grid: SurfaceGrid, o: View3d): (Point2d | undefined)[][] {
  const days = grid.expiries.map((e) => Math.sqrt(e.days));
  const [near, far] = [days[0] ?? 0, days[days.length - 1] ?? 1];
  const last = grid.logMoneyness.length - 1;
  return grid.values.map((row, r) =>
    row.map((value, c) =>
      Number.isNaN(value)
        ? undefined
        : project((2 * c) / last - 1, (2 * (days[r] - near)) / (far - near || 1) - 1, heightOf(value, grid.range), o),
    ),
  );
}

/** A corner of a cell: where it is, and its value. */
export interface CellCorner {
  point: Point2d;
  value: number;
}

/**
 * Where a level crosses a cell, as pairs of ends, straight between its corners.
 * @param corners three or four, around the cell
 */
export function contourOf(corners: readonly CellCorner[], level: number): [Point2d, Point2d][] {
  const ends = corners.flatMap(({ point, value }, i): Point2d[] => {
    const next = corners[(i + 1) % corners.length];
    if (value < level === next.value < level) return [];
    const share = (level - value) / (next.value - value);
    const between = (a: number, b: number) => a + share * (b - a);
    return [
      {
        x: between(point.x, next.point.x),
        y: between(point.y, next.point.y),
        depth: between(point.depth, next.point.depth),
      },
    ];
  });
  // Of a saddle the ends come around the cell: each with the one after it.
  return ends.length === 4
    ? [
        [ends[0], ends[1]],
        [ends[2], ends[3]],
      ]
    : ends.length === 2
      ? [[ends[0], ends[1]]]
      : [];
}
