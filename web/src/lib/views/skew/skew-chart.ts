import type { Annotations, Data, Layout, Shape } from 'plotly.js';
import { dateText, volatilityText } from '../../ui/format.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import { axisStyle, axisTitle, baseLayout, type Chart } from '../../ui/chart.ts';
import type { Palette } from '../../ui/palette.ts';
import { placeLabels } from '../../ui/place-labels.ts';
import type { SkewAxis } from './parameters.ts';
import { AXIS_TITLES, axisValue } from './skew-axis.ts';
import { focusMarks, residualRange, whiskerReach } from './skew-focus-marks.ts';
import { borrowedLine, fittedLines, type SkewLine } from './skew-lines.ts';

/** Beyond so many lines those of the focus and the monthlies alone bear their names. */
const MOST_NAMES = 14;
/** Whiskers may widen the range by this share of that of the lines, on either side. */
const MOST_BEYOND = 0.35;
/** Free above and below what is drawn, share of its range. */
const PAD = 0.08;
/** Around the plot, pixels. */
const MARGIN = { l: 44, r: 86, t: 26, b: 42 };
/** Size of a name at the end of its line, pixels. */
const NAME = { width: 62, height: 15 };
/** Heights of the chart of smiles and of the strip of residuals below it, shares of the plot from its foot. */
const SMILES: [number, number] = [0.26, 1];
const RESIDUALS: [number, number] = [0, 0.15];
/** From a chart's upper end to the words over it, share of the plot; from the plot's left edge to their begin, pixels. */
const WORDS = { above: 0.045, left: -38, size: 11.5 };
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
  const data = [...lines.map((line) => line.trace), ...(focus ? focusMarks(focus, o) : [])];
  const range = rangeOf(
    lines.flatMap((line) => line.volatilities),
    focus,
  );
  const center = centerLine(o);
  const words = [wordsOver('implied volatility, %', SMILES, palette), ...center.annotations];
  if (focus)
    words.push(wordsOver(`quote minus fit, ${dateText(focus.date, picture.asOf)}, points`, RESIDUALS, palette));
  return {
    data: [...data, namesOf(lines, data, range, o)],
    description: describe(picture, o),
    layout: { ...layoutOf(range, o), annotations: words, shapes: center.shapes },
  };
}

function layoutOf(range: [number, number], { axis: shownAxis, focus, palette }: SkewOptions): Partial<Layout> {
  const axis = axisStyle(palette);
  return {
    ...baseLayout(palette),
    margin: MARGIN,
    xaxis: {
      ...axis,
      anchor: 'y2',
      showgrid: false,
      title: axisTitle(AXIS_TITLES[shownAxis], palette),
      ticksuffix: shownAxis === 'distance' ? ' %' : '',
      ...(shownAxis === 'delta' ? DELTA_TICKS : {}),
      showspikes: true,
      spikemode: 'across',
      spikesnap: 'cursor',
      spikethickness: 1,
      spikedash: 'solid',
      spikecolor: palette.ink,
    },
    yaxis: { ...axis, domain: SMILES, range, nticks: 8 },
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

/** Names at the ends of their lines, none over another; one trace of texts: an annotation each took a sixth of the time of drawing. */
function namesOf(lines: readonly SkewLine[], data: readonly Data[], range: [number, number], o: SkewOptions): Data {
  // Names are placed in pixels; the plot's size is known well enough from its share of the frame.
  const xs = data.flatMap((d) => ('x' in d && Array.isArray(d.x) ? (d.x as (number | null)[]) : []));
  const known = xs.filter((x) => x !== null);
  const perX = (o.width - MARGIN.l - MARGIN.r) / (Math.max(...known) - Math.min(...known) || 1);
  const plotHeight = (o.height - MARGIN.t - MARGIN.b) * (SMILES[1] - SMILES[0]);
  const perY = plotHeight / (range[1] - range[0]);
  const ends = lines.map((line) => line.name).sort((a, b) => Number(b.isFocus) - Number(a.isFocus));
  const named = ends.length > MOST_NAMES ? ends.filter((e) => e.isFocus || e.isMonthly) : ends;
  const places = named.map((e) => ({ x: e.x * perX, y: e.y * perY, width: NAME.width }));
  return {
    type: 'scatter',
    mode: 'text',
    x: named.map((e) => e.x),
    y: placeLabels(places, NAME.height).map((pixels) => pixels / perY),
    text: named.map((e) => (e.isFocus ? ` <b>${e.text}</b>` : ` ${e.text}`)),
    textposition: 'middle right',
    textfont: { size: WORDS.size, color: o.palette.ink },
    cliponaxis: false,
    hoverinfo: 'skip',
  };
}

/** Words over the left upper corner of a part of the plot. */
function wordsOver(text: string, [, top]: [number, number], palette: Palette): Partial<Annotations> {
  return {
    text,
    x: 0,
    y: top + WORDS.above,
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
    annotations: [{ x, y: y1 + WORDS.above, yref: 'paper', text: 'forward', showarrow: false, font }],
  };
}

function describe(picture: Picture, o: SkewOptions): string {
  const rows = o.shown.map((e) => `${dateText(e.date, picture.asOf)} ${volatilityText(e.atm)} %`);
  return `Implied volatility of ${picture.underlying.symbol} by ${AXIS_TITLES[o.axis]}; at the money: ${rows.join(', ')}.`;
}
