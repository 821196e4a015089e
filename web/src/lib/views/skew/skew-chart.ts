import type { Annotations, Data, Layout, Shape } from 'plotly.js';
import { dateText, tickDecimals, volatilityText } from '../../ui/format.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import { axisStyle, axisTitle, baseLayout, type Chart } from '../../ui/chart.ts';
import type { Palette } from '../../ui/palette.ts';
import { labelColumn } from '../../ui/label-column.ts';
import { LEADS } from '../../ui/chart-table.ts';
import { placeLabels } from '../../ui/place-labels.ts';
import type { Strokes } from '../../ui/strokes.ts';
import type { SkewAxis } from './parameters.ts';
import { AXIS_TITLES, axisValue, placeText } from './skew-axis.ts';
import { focusMarks, residualRange, whiskerReach } from './skew-focus-marks.ts';
import { borrowedLine, fittedLines, type SkewLine } from './skew-lines.ts';

/** Beyond so many lines those of the focus and the monthlies alone bear their names. */
const MOST_NAMES = 14;
/** Whiskers may widen the range by this share of that of the lines, on either side. */
const MOST_BEYOND = 0.35;
/** Free above and below what is drawn, share of its range. */
const PAD = 0.08;
/** Around the plot, pixels. */
const MARGIN = { l: 44, r: 8, t: 26, b: 42 };
/** Mean width of a letter, room around a name, and height of a name at the end of its line, pixels. */
const NAME = { letter: 6.2, pad: 6, height: 14 };
/** Lines that end in this share at the right of what is drawn have their names in a column behind it; its width and begin, pixels. */
const COLUMN = { share: 0.3, width: 84, from: 18 };
/** Free left and right of what is drawn, share of its range. */
const SIDE_PAD = 0.02;
/** Ranges of both axes of the smiles. */
interface Ranges {
  x: [number, number];
  y: [number, number];
}
/** Heights of the chart of smiles and of the strip of residuals below it, shares of the plot from its foot. */
const SMILES: [number, number] = [0.26, 1];
const RESIDUALS: [number, number] = [0, 0.15];
/** From a chart's upper end to the words over it, and from the plot's left edge to their begin, pixels. */
const WORDS = { above: 6, left: -38, size: 11.5 };
const DELTA_TICKS = { tickvals: [10, 25, 50, 75, 90], ticktext: ['10 put', '25 put', '50', '25 call', '10 call'] };

interface SkewOptions {
  shown: ExpiryPicture[];
  focus: ExpiryPicture | undefined;
  axis: SkewAxis;
  palette: Palette;
  /** Of the frame, pixels */
  width: number;
  height: number;
}

/**
 * Smiles of the shown expiries over one axis: fitted lines labelled at their ends, the focus expiry's market as
 * whiskers from bid to offer, quotes kept out as hollow gray marks, and below the focus expiry's quote minus fit.
 */
export function skewChart(picture: Picture, o: SkewOptions): Chart {
  const { focus, palette } = o;
  const drawing = { axis: o.axis, palette, asOf: picture.asOf };
  const borrowed = borrowedLine(focus, drawing);
  const lines = [...fittedLines(o.shown, focus, drawing), ...(borrowed ? [borrowed] : [])];
  const { marks, whiskers } = focus ? focusMarks(focus, o) : { marks: [], whiskers: [] };
  const drawn = lines.flatMap((line) => line.volatilities);
  const ranges = { x: rangeAcross(lines, marks), y: rangeOf(drawn, focus) };
  const center = centerLine(o);
  const words = [wordsOver('implied volatility, %', SMILES, palette), ...center.annotations];
  if (focus)
    words.push(wordsOver(`quote minus fit, ${dateText(focus.date, picture.asOf)}, points`, RESIDUALS, palette));
  const { names, leads } = namesOf(lines, whiskers.slice(0, 1), ranges, o);
  return {
    data: [...lines.map((line) => line.trace), ...marks, names],
    strokes: [...whiskers, leads],
    description: describe(picture, o),
    titleAt: (x) => placeText(o.axis, Number(x), tickDecimals(picture.underlying.underlyingTick)),
    subject: `${picture.underlying.symbol} ${o.axis}`,
    layout: { ...layoutOf(ranges, o), annotations: words, shapes: center.shapes },
  };
}

function layoutOf(ranges: Ranges, o: SkewOptions): Partial<Layout> {
  const { axis: shownAxis, focus, palette } = o;
  const axis = axisStyle(palette);
  return {
    ...baseLayout(palette),
    margin: MARGIN,
    xaxis: {
      ...axis,
      anchor: 'y2',
      range: [ranges.x[0], ranges.x[1] + ((ranges.x[1] - ranges.x[0]) * COLUMN.width) / drawnWidth(o)],
      showgrid: false,
      title: axisTitle(AXIS_TITLES[shownAxis], palette),
      ticksuffix: shownAxis === 'distance' ? ' %' : '',
      ...(shownAxis === 'delta' ? DELTA_TICKS : {}),
    },
    yaxis: { ...axis, domain: SMILES, range: [...ranges.y], nticks: 8 },
    yaxis2: {
      ...axis,
      domain: RESIDUALS,
      nticks: 3,
      zeroline: true,
      zerolinecolor: palette.faint,
      range: residualRange(focus),
    },
  };
}

/**
 * Names of lines with lines that lead to them: in a column at the right where a line ends near it, else beside its end, clear of
 * all that is drawn.
 */
function namesOf(
  lines: readonly SkewLine[],
  whiskers: readonly Strokes[],
  ranges: Ranges,
  o: SkewOptions,
): { names: Data; leads: Strokes } {
  const plot = { width: drawnWidth(o), height: plotHeight(o) };
  const perX = plot.width / (ranges.x[1] - ranges.x[0]);
  const perY = plot.height / (ranges.y[1] - ranges.y[0]);
  const acrossOf = (x: number) => (x - ranges.x[0]) * perX;
  const upOf = (y: number) => (y - ranges.y[0]) * perY;
  const ends = lines.map((line) => line.name).sort((a, b) => a.y - b.y);
  const named = ends
    .filter((e) => ends.length <= MOST_NAMES || e.isFocus || e.isMonthly)
    .map((e) => ({ ...e, across: acrossOf(e.x), up: upOf(e.y), width: NAME.letter * e.text.length + NAME.pad }));
  const isNear = (e: (typeof named)[number]) => e.across > (1 - COLUMN.share) * plot.width;
  const column = named.filter(isNear);
  const heights = labelColumn(
    column.map((e) => e.up),
    NAME.height,
    [0, plot.height],
  );
  const beside = named.filter((e) => !isNear(e));
  const places = placeLabels(
    beside.map((e) => ({ x: e.across, y: e.up, width: e.width })),
    {
      height: NAME.height,
      lines: [...lines.map((line) => line.trace), ...whiskers].map((drawn) => {
        const { x, y } = drawn as { x: (number | null)[]; y: (number | null)[] };
        return { x: x.map((v) => acrossOf(v ?? NaN)), y: y.map((v) => upOf(v ?? NaN)) };
      }),
      frame: { left: 0, right: plot.width, top: 0, bottom: plot.height },
    },
  );
  const placed = [
    ...column.map((e, i) => ({ e, x: plot.width + COLUMN.from, y: heights[i], isLed: true })),
    ...beside.map((e, i) => ({ e, ...places[i] })),
  ];
  const led = placed.filter((p) => p.isLed);
  // A name at the left is led to from its right end.
  const nearEnd = ({ e, x }: (typeof placed)[number]) => (x < e.across ? x + e.width : x - 1);
  return {
    leads: {
      name: LEADS,
      x: led.flatMap((p) => [p.e.x, nearEnd(p) / perX + ranges.x[0], null]),
      y: led.flatMap((p) => [p.e.y, p.y / perY + ranges.y[0], null]),
      ...{ yaxis: 'y', color: o.palette.faint, width: 0.7 },
    },
    names: {
      type: 'scatter',
      mode: 'text',
      x: placed.map((p) => p.x / perX + ranges.x[0]),
      y: placed.map((p) => p.y / perY + ranges.y[0]),
      text: placed.map(({ e }) => (e.isFocus ? `<b>${e.text}</b>` : e.text)),
      textposition: 'middle right',
      textfont: { size: WORDS.size, color: o.palette.ink },
      cliponaxis: false,
      hoverinfo: 'skip',
    },
  };
}

/** Pixels across that what is drawn takes, without the column of names. */
function drawnWidth(o: SkewOptions): number {
  return Math.max(1, o.width - MARGIN.l - MARGIN.r - COLUMN.width);
}

function plotHeight(o: SkewOptions): number {
  return (o.height - MARGIN.t - MARGIN.b) * (SMILES[1] - SMILES[0]);
}

/** Range across that holds all lines, and the focus expiry's quotes as far as they do not dwarf them. */
function rangeAcross(lines: readonly SkewLine[], marks: readonly Data[]): [number, number] {
  const drawn = lines.flatMap((line) => (line.trace as { x: number[] }).x);
  const quoted = marks.flatMap((d) => ('x' in d ? (d.x as (number | null)[]).filter((x) => x !== null) : []));
  const [left, right] = extentOf(drawn.length > 0 ? drawn : quoted);
  const span = right - left || Math.abs(left) || 1;
  const [least, most] = extentOf([...quoted, left, right]);
  const range = [Math.max(least, left - MOST_BEYOND * span), Math.min(most, right + MOST_BEYOND * span)];
  const pad = SIDE_PAD * (range[1] - range[0] || 1);
  return [range[0] - pad, range[1] + pad];
}

function extentOf(values: readonly number[]): [number, number] {
  let [least, most] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return values.length > 0 ? [least, most] : [0, 1];
}

/** Words over the left upper corner of a part of the plot. */
function wordsOver(text: string, [, top]: [number, number], palette: Palette): Partial<Annotations> {
  return {
    text,
    x: 0,
    y: top,
    yanchor: 'bottom',
    yshift: WORDS.above,
    xref: 'paper',
    yref: 'paper',
    showarrow: false,
    xanchor: 'left',
    xshift: WORDS.left,
    font: { color: palette.soft, size: WORDS.size },
  };
}

/** Range that holds all lines, and the focus expiry's whiskers as far as they do not dwarf the lines. */
function rangeOf(drawn: number[], focus: ExpiryPicture | undefined): [number, number] {
  const [bottom, top] = [Math.min(...drawn), Math.max(...drawn)];
  const span = top - bottom || 1;
  const { low, high } = focus ? whiskerReach(focus) : { low: Infinity, high: -Infinity };
  const [least, most] = [
    Math.max(Math.min(bottom, low), bottom - MOST_BEYOND * span),
    Math.min(Math.max(top, high), top + MOST_BEYOND * span),
  ];
  const pad = PAD * (most - least);
  return [least - pad, most + pad];
}

/** Where the strike equals the focus expiry's forward. */
function centerLine({ focus, axis, palette }: SkewOptions): {
  shapes: Partial<Shape>[];
  annotations: Partial<Annotations>[];
} {
  if (!focus || focus.atm === null) return { shapes: [], annotations: [] };
  const x = axisValue(axis, focus, focus.forward, focus.atm);
  const [y0, y1] = SMILES;
  const line = { color: palette.line, width: 1.2 };
  const font = { size: WORDS.size, color: palette.soft };
  return {
    shapes: [{ type: 'line', x0: x, x1: x, y0, y1, yref: 'paper', line, layer: 'below' }],
    annotations: [
      { x, y: y1, yref: 'paper', yanchor: 'bottom', yshift: WORDS.above, text: 'forward', showarrow: false, font },
    ],
  };
}

function describe(picture: Picture, o: SkewOptions): string {
  const rows = o.shown.map((e) => `${dateText(e.date, picture.asOf)} ${volatilityText(e.atm)} %`);
  return `Implied volatility of ${picture.underlying.symbol} by ${AXIS_TITLES[o.axis]}; at the money: ${rows.join(', ')}.`;
}
