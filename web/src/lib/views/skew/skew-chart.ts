import { smileVolatility } from '@umwelt/core/surface';
import type { Annotations, Data, Shape } from 'plotly.js';
import { borrowedSmileOf, expirySmile } from '../../theory/index.ts';
import { dateText, volatilityText } from '../../ui/format.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import { axisStyle, axisTitle, baseLayout, type ChartFigure } from '../../ui/chart.ts';
import { expiryColor, type Palette } from '../../ui/palette.ts';
import { placeLabels } from '../../ui/place-labels.ts';
import type { SkewAxis } from './parameters.ts';
import { AXIS_TITLES, axisValue } from './skew-axis.ts';
import { focusMarks, residualRange, whiskerReach } from './skew-focus-marks.ts';

const CURVE_POINTS = 90;
/** Beyond so many lines those of the focus and the monthlies alone bear their names. */
const MOST_NAMES = 14;
/** Whiskers may widen the range by this share of that of the lines, on either side. */
const MOST_BEYOND = 0.35;
const LABEL_WIDTH = 62;
const LABEL_HEIGHT = 15;

interface SkewOptions {
  shown: ExpiryPicture[];
  focus: ExpiryPicture | undefined;
  axis: SkewAxis;
  palette: Palette;
  width: number;
  height: number;
}

/**
 * Smiles of the shown expiries over one axis: fitted lines labelled at their ends, the focus expiry's market as
 * whiskers from bid to offer, quotes kept out as hollow gray marks, and below the focus expiry's quote minus fit.
 */
export function skewFigure(picture: Picture, o: SkewOptions): ChartFigure {
  const data: Data[] = [];
  const ends: { x: number; y: number; text: string; isFocus: boolean; isMonthly: boolean }[] = [];
  const drawn: number[] = [];
  for (const expiry of o.shown) {
    const smile = expirySmile(expiry);
    if (!smile || !expiry.smile) continue;
    const color = expiryColor(expiry.days, o.palette);
    const isFocus = expiry.date === o.focus?.date;
    const [low, high] = expiry.smile.range;
    const x: number[] = [];
    const y: number[] = [];
    for (let n = 0; n <= CURVE_POINTS; n++) {
      const k = low + ((high - low) * n) / CURVE_POINTS;
      const volatility = smileVolatility(smile, k);
      x.push(axisValue(o.axis, expiry, expiry.forward * Math.exp(k), volatility));
      y.push(volatility * 100);
    }
    drawn.push(...y);
    const name = dateText(expiry.date, picture.asOf);
    data.push({
      type: 'scatter',
      mode: 'lines',
      x,
      y,
      name,
      line: { color, width: isFocus ? 2.4 : 1.4 },
      hovertemplate: `${name} %{y:.1f} %<extra></extra>`,
    });
    ends.push({ x: x[x.length - 1], y: y[y.length - 1], text: name, isFocus, isMonthly: expiry.isMonthly });
  }
  const lent = o.focus && borrowedSmileOf(o.focus);
  if (o.focus?.smile && o.focus.borrowed && lent) {
    const { focus } = o;
    const [low, high] = o.focus.smile.range;
    const points = Array.from({ length: CURVE_POINTS + 1 }, (_, n) => {
      const k = low + ((high - low) * n) / CURVE_POINTS;
      const volatility = smileVolatility(lent, k);
      return { x: axisValue(o.axis, focus, focus.forward * Math.exp(k), volatility), y: volatility * 100 };
    });
    const words = `${o.focus.borrowed.donor}'s smile`;
    drawn.push(...points.map((p) => p.y));
    data.push({
      type: 'scatter',
      mode: 'lines',
      x: points.map((p) => p.x),
      y: points.map((p) => p.y),
      name: words,
      line: { color: o.palette.implied, width: 2, dash: 'dash' },
      hovertemplate: `${words} %{y:.1f} %<extra></extra>`,
    });
    ends.push({ ...points[0], text: words, isFocus: false, isMonthly: true });
  }
  if (o.focus) data.push(...focusMarks(o.focus, o));

  const range = rangeOf(drawn, o.focus);
  // Labels are placed in pixels; the plot's size is known well enough from its share of the frame.
  const xs = data.flatMap((d) => ('x' in d && Array.isArray(d.x) ? (d.x as (number | null)[]) : []));
  const known = xs.filter((x) => x !== null);
  const [left, right] = [Math.min(...known), Math.max(...known)];
  const perX = (o.width - 130) / (right - left || 1);
  const perY = (o.height * 0.66) / (range[1] - range[0]);
  ends.sort((a, b) => Number(b.isFocus) - Number(a.isFocus));
  const named = ends.length > MOST_NAMES ? ends.filter((e) => e.isFocus || e.isMonthly) : ends;
  const heights = placeLabels(
    named.map((e) => ({ x: e.x * perX, y: e.y * perY, width: LABEL_WIDTH })),
    LABEL_HEIGHT,
  ).map((pixels) => pixels / perY);
  // One trace of texts: an annotation each took a sixth of the time of drawing.
  data.push({
    type: 'scatter',
    mode: 'text',
    x: named.map((e) => e.x),
    y: heights,
    text: named.map((e) => (e.isFocus ? ` <b>${e.text}</b>` : ` ${e.text}`)),
    textposition: 'middle right',
    textfont: { size: 11.5, color: o.palette.ink },
    cliponaxis: false,
    hoverinfo: 'skip',
  });
  const marks = centerLine(o);
  const annotations: Partial<Annotations>[] = [
    {
      text: 'implied volatility, %',
      x: 0,
      y: 1.045,
      xref: 'paper',
      yref: 'paper',
      showarrow: false,
      xanchor: 'left',
      xshift: -38,
      font: { color: o.palette.soft, size: 11.5 },
    },
    ...marks.annotations,
  ];
  if (o.focus) {
    annotations.push({
      text: `quote minus fit, ${dateText(o.focus.date, picture.asOf)}, points`,
      x: 0,
      y: 0.195,
      xref: 'paper',
      yref: 'paper',
      showarrow: false,
      xanchor: 'left',
      xshift: -38,
      font: { color: o.palette.soft, size: 11.5 },
    });
  }
  const axis = axisStyle(o.palette);
  return {
    data,
    description: describe(picture, o),
    layout: {
      ...baseLayout(o.palette),
      margin: { l: 44, r: 86, t: 26, b: 42 },
      xaxis: {
        ...axis,
        anchor: 'y2',
        showgrid: false,
        title: axisTitle(AXIS_TITLES[o.axis], o.palette),
        ticksuffix: o.axis === 'distance' ? ' %' : '',
        ...(o.axis === 'delta'
          ? { tickvals: [10, 25, 50, 75, 90], ticktext: ['10 put', '25 put', '50', '25 call', '10 call'] }
          : {}),
        showspikes: true,
        spikemode: 'across',
        spikesnap: 'cursor',
        spikethickness: 1,
        spikedash: 'solid',
        spikecolor: o.palette.ink,
      },
      yaxis: { ...axis, domain: [0.26, 1], range, nticks: 8 },
      yaxis2: {
        ...axis,
        domain: [0, 0.15],
        nticks: 3,
        zeroline: true,
        zerolinecolor: o.palette.faint,
        range: residualRange(o.focus),
      },
      annotations,
      shapes: marks.shapes,
    },
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
  const pad = 0.08 * (most - least);
  return [least - pad, most + pad];
}

/** Where the strike equals the focus expiry's forward. */
function centerLine(o: SkewOptions): { shapes: Partial<Shape>[]; annotations: Partial<Annotations>[] } {
  const { focus } = o;
  if (!focus || focus.atm === null) return { shapes: [], annotations: [] };
  const x = axisValue(o.axis, focus, focus.forward, focus.atm);
  return {
    shapes: [
      {
        type: 'line',
        x0: x,
        x1: x,
        y0: 0.26,
        y1: 1,
        yref: 'paper',
        line: { color: o.palette.line, width: 1.2 },
        layer: 'below',
      },
    ],
    annotations: [
      { x, y: 1.045, yref: 'paper', text: 'forward', showarrow: false, font: { size: 11.5, color: o.palette.soft } },
    ],
  };
}

function describe(picture: Picture, o: SkewOptions): string {
  const rows = o.shown.map((e) => `${dateText(e.date, picture.asOf)} ${volatilityText(e.atm)} %`);
  return `Implied volatility of ${picture.underlying.symbol} by ${AXIS_TITLES[o.axis]}; at the money: ${rows.join(', ')}.`;
}
