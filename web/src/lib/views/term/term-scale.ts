import type { Data } from 'plotly.js';
import type { Palette } from '../../ui/palette.ts';

/** A line as it is drawn: places along the time axis and volatilities in percent. */
export interface ScaledLine {
  name: string;
  color: string;
  x: readonly number[];
  y: readonly (number | null)[];
}

export type Range = readonly [low: number, high: number];

/** Beyond what owns the scale others may take so much of its span on either side, in shares of it. */
const ALLOWANCE = 0.75;
/** What a flat line is taken to span, points. */
const LEAST_SPAN = 2;
/** Left free above and below, a share of the whole. */
const PAD = 0.07;

const known = (values: readonly (number | null)[]) => values.filter((v) => v !== null).filter(Number.isFinite);

/**
 * Range of the vertical axis: what the view is about decides it, others are shown as far as they leave that readable.
 * @param owners values of the lines that own the scale
 * @param others values of those that may be cut
 */
export function scaleOf(owners: readonly (number | null)[], others: readonly (number | null)[]): Range {
  const own = known(owners);
  if (own.length === 0) return [0, 1];
  const [low, high] = [Math.min(...own), Math.max(...own)];
  const room = ALLOWANCE * Math.max(high - low, LEAST_SPAN);
  const all = [...own, ...known(others)];
  const from = Math.max(Math.min(...all), low - room);
  const to = Math.min(Math.max(...all), high + room);
  const pad = PAD * Math.max(to - from, LEAST_SPAN / 2);
  return [from - pad, to + pad];
}

/** Where lines leave the range: a mark at its edge that says how far they go. */
export function cutMarks(lines: readonly ScaledLine[], [low, high]: Range, palette: Palette): Data[] {
  const marks = lines.flatMap(({ name, color, x, y }) =>
    departures(x, y, [low, high]).map(({ at, isAbove, farthest }) => ({
      x: at,
      y: isAbove ? high : low,
      symbol: isAbove ? 'triangle-up' : 'triangle-down',
      color,
      text: `${name} goes ${isAbove ? 'up' : 'down'} to ${farthest.toFixed(1)} % here`,
    })),
  );
  if (marks.length === 0) return [];
  return [
    {
      type: 'scatter',
      mode: 'markers',
      x: marks.map((m) => m.x),
      y: marks.map((m) => m.y),
      marker: {
        symbol: marks.map((m) => m.symbol),
        size: 9,
        color: marks.map((m) => m.color),
        line: { color: palette.paper, width: 1 },
      },
      cliponaxis: false,
      text: marks.map((m) => m.text),
      name: 'beyond the scale',
    },
  ];
}

interface Departure {
  at: number;
  isAbove: boolean;
  /** The value that lies farthest out before the line comes back */
  farthest: number;
}

/** Each stretch of a line outside of a range, at the place where it leaves, or begins. */
function departures(x: readonly number[], y: readonly (number | null)[], [low, high]: Range): Departure[] {
  const found: Departure[] = [];
  let before: { x: number; y: number } | undefined;
  let open: Departure | undefined;
  for (const [i, value] of y.entries()) {
    if (value === null) continue;
    const isAbove = value > high;
    if (!isAbove && value >= low) open = undefined;
    else if (open?.isAbove === isAbove)
      open.farthest = isAbove ? Math.max(open.farthest, value) : Math.min(open.farthest, value);
    else {
      const edge = isAbove ? high : low;
      const share = before ? (edge - before.y) / (value - before.y) : 1;
      open = { at: before ? before.x + share * (x[i] - before.x) : x[i], isAbove, farthest: value };
      found.push(open);
    }
    before = { x: x[i], y: value };
  }
  return found;
}
