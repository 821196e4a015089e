import type { Annotations, Data } from 'plotly.js';
import { axisStyle, axisTitle, baseLayout, type Chart, cornerLabel } from '../../ui/chart.ts';
import { numberText, volatilityText } from '../../ui/format.ts';
import type { Palette } from '../../ui/palette.ts';
import { DISTANCE_WORDS, type DistanceCount, type SameDistanceRow } from '../../theory/index.ts';

type Side = 'put' | 'call';
const SIDES: readonly Side[] = ['put', 'call'];
/** Shares of the height: volatility above, value below. */
const VOLATILITY: [number, number] = [0.56, 1];
const VALUE: [number, number] = [0, 0.36];

/** Names whose lines end within this share of the range are moved apart. */
const CLOSE = 0.2;

interface DistanceOptions {
  by: DistanceCount;
  palette: Palette;
  /** From a value per unit of underlying to what is shown */
  factor: number;
  decimals: number;
  currency: string;
}

/** Volatility and value of put and call at the same distance both ways: what the tilt is, and what it costs. */
export function distanceChart(rows: readonly SameDistanceRow[], o: DistanceOptions): Chart {
  const { palette, factor } = o;
  const volatility = (row: SameDistanceRow, side: Side) => row[side] && 100 * row[side].volatility;
  const value = (row: SameDistanceRow, side: Side) => row[side]?.price && factor * row[side].price;
  const line = (
    side: Side,
    yaxis: 'y' | 'y2',
    y: (number | undefined)[],
    text: (amount: number | undefined) => string,
  ): Data => ({
    type: 'scatter',
    mode: 'lines+markers',
    x: rows.map((row) => row.distance),
    y: y.map((v) => v ?? null),
    yaxis,
    name: `${side} ${yaxis === 'y' ? 'volatility' : 'value'}`,
    line: { color: palette.implied, width: side === 'put' ? 1.8 : 1.2 },
    marker: {
      size: 6,
      color: side === 'call' ? palette.implied : palette.paper,
      line: { color: palette.implied, width: 1.3 },
    },
    text: y.map(text),
  });
  const percent = (v: number | undefined) => `${volatilityText(v === undefined ? undefined : v / 100)} %`;
  const money = (v: number | undefined) => `${numberText(v, o.decimals)} ${o.currency}`;
  const data = SIDES.flatMap((side) => [
    line(
      side,
      'y',
      rows.map((row) => volatility(row, side)),
      percent,
    ),
    line(
      side,
      'y2',
      rows.map((row) => value(row, side)),
      money,
    ),
  ]);
  const axis = axisStyle(palette);
  return {
    data,
    description: `Volatility and value of put and call by distance from the forward: ${rows
      .map((row) => `${row.distance}: put ${percent(volatility(row, 'put'))}, call ${percent(volatility(row, 'call'))}`)
      .join('; ')}.`,
    titleAt: (x) => `${x} ${DISTANCE_WORDS[o.by]}`,
    layout: {
      ...baseLayout(palette),
      margin: { l: 54, r: 44, t: 24, b: 38 },
      xaxis: {
        ...axis,
        anchor: 'y2',
        showgrid: false,
        title: axisTitle(`${DISTANCE_WORDS[o.by]}, both ways`, palette),
        // Deltas fall with the distance.
        autorange: o.by === 'delta' ? 'reversed' : true,
      },
      yaxis: { ...axis, domain: VOLATILITY, nticks: 6 },
      yaxis2: { ...axis, domain: VALUE, nticks: 5, rangemode: 'tozero' },
      annotations: [
        cornerLabel('volatility, %', palette),
        { ...cornerLabel(`value, ${o.currency}`, palette), y: VALUE[1] },
        ...endNames(rows, volatility, palette),
      ],
    },
  };
}

/** Names of put and call at the ends of their lines of volatility. */
function endNames(
  rows: readonly SameDistanceRow[],
  volatility: (row: SameDistanceRow, side: Side) => number | undefined,
  palette: Palette,
): Partial<Annotations>[] {
  const ends = SIDES.flatMap((side) => {
    const last = rows.findLast((row) => volatility(row, side) !== undefined);
    return last ? [{ side, x: last.distance, y: volatility(last, side) ?? 0 }] : [];
  });
  const drawn = rows.flatMap((row) => SIDES.flatMap((side) => volatility(row, side) ?? []));
  const span = Math.max(...drawn) - Math.min(...drawn) || 1;
  const [first, second] = ends;
  const isClose = ends.length === 2 && first.x === second.x && Math.abs(first.y - second.y) < CLOSE * span;
  return ends.map(({ side, x, y }) => ({
    ...{ x, y, text: side, showarrow: false, xanchor: 'left', xshift: 8 },
    yshift: isClose ? (y === Math.max(first.y, second.y) ? 8 : -8) : 0,
    font: { size: 11.5, color: palette.ink },
  }));
}
