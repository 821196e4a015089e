import type { ShownTable } from './shown-table.ts';

/** A line of a chart that follows a hand. */
export interface ChartLine {
  name: string;
  color: string;
  width: number;
  dash?: string;
  x: readonly number[];
  /** null where there is none */
  y: readonly (number | null)[];
}

/** An area between two lines over the same places. */
export interface ChartBand {
  color: string;
  opacity: number;
  x: readonly number[];
  low: readonly number[];
  high: readonly number[];
}

/**
 * What a chart shows that is drawn anew with every move of a hand: lines, areas, a mark, lines upright; how its numbers are
 * written. Drawn as SVG: Plotly takes tens of milliseconds for it.
 */
export interface LineChart {
  lines: readonly ChartLine[];
  bands?: readonly ChartBand[];
  mark?: { x: number; y: number; color: string };
  uprights?: readonly { x: number; color: string; name?: string }[];
  across: { title: string; range: readonly [number, number]; text: (x: number) => string };
  up: { title: string; isFromZero?: boolean; text: (y: number) => string };
  /** Where lines bear their names; at their ends unless it is said */
  namesAt?: 'start' | 'end';
  /** Text alternative */
  description: string;
}

/** Points of a chart as a table, one row a point. */
export function lineChartTable({ lines }: LineChart): ShownTable {
  const rows = lines.flatMap(({ name, x, y }) => x.map((at, i) => [name, at, y[i] ?? null]));
  return { header: ['line', 'x', 'y'], rows };
}

/** Share of the highest below which the lowest is near nothing. */
const NEAR_ZERO = 0.25;

/** Range that holds all that is drawn, with a little room. */
export function rangeUp(chart: LineChart): [number, number] {
  const drawn = [
    ...chart.lines.flatMap(({ y }) => y.filter((v) => v !== null)),
    ...(chart.bands ?? []).flatMap(({ low, high }) => [...low, ...high]),
    ...(chart.mark ? [chart.mark.y] : []),
    ...(chart.up.isFromZero ? [0] : []),
  ].filter((v) => Number.isFinite(v));
  if (drawn.length === 0) return [0, 1];
  const [least, most] = [Math.min(...drawn), Math.max(...drawn)];
  const room = 0.06 * (most - least || Math.abs(most) || 1);
  // What is never below nothing and comes near it begins there.
  return [least >= 0 && least < NEAR_ZERO * most ? 0 : least - room, most + room];
}
