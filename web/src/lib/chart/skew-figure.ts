import { smileVolatility } from '@umwelt/core/surface';
import { forwardDelta } from '@umwelt/core/pricing';
import type { Annotations, Data, Shape } from 'plotly.js';
import { borrowedSmileOf, expirySmile } from '../figures/expiry-smile.ts';
import { dateText, strikeText, volatilityText } from '../figures/format.ts';
import { reasonWords } from '../reading/readings.ts';
import type { AsOfContext } from '../schema/as-of-context.ts';
import type { ExpiryPicture, Picture, Side } from '../schema/picture.ts';
import { axisStyle, axisTitle, baseLayout, type ChartFigure } from './figure.ts';
import { expiryColor, type Palette } from './palette.ts';
import { placeLabels } from './place-labels.ts';

type Axis = AsOfContext['axis'];

const AXIS_TITLES: Record<Axis, string> = {
  strike: 'strike',
  distance: 'strike against forward, %',
  moneyness: 'ln(strike / forward)',
  deviations: 'ln(strike / forward) in deviations at the money',
  delta: 'undiscounted call delta, puts to the left',
};

const CURVE_POINTS = 90;
/** Beyond so many lines those of the focus and the monthlies alone bear their names. */
const MOST_NAMES = 14;
const LABEL_WIDTH = 62;
const LABEL_HEIGHT = 15;

/** Position of a strike on the chosen axis; delta runs from deep puts (left) to far calls (right). */
function axisValue(axis: Axis, expiry: ExpiryPicture, strike: number, volatility: number): number {
  switch (axis) {
    case 'strike':
      return strike;
    case 'distance':
      return (strike / expiry.forward - 1) * 100;
    case 'moneyness':
      return Math.log(strike / expiry.forward);
    case 'deviations':
      return Math.log(strike / expiry.forward) / ((expiry.atm ?? NaN) * Math.sqrt(expiry.years));
    case 'delta':
      return (
        100 *
        (1 - forwardDelta({ side: 'call', forward: expiry.forward, strike, timeToExpiry: expiry.years, volatility }))
      );
  }
}

/** Quotes of the out-of-the-money side of each strike, as drawn. */
function drawnQuotes(expiry: ExpiryPicture) {
  return expiry.strikes.map((strike, i) => {
    const side: Side = strike >= expiry.forward ? 'call' : 'put';
    const q = expiry[side];
    return {
      strike,
      side,
      bid: q.bidVolatility[i],
      mid: q.midVolatility[i],
      ask: q.askVolatility[i],
      verdict: q.verdict[i],
    };
  });
}

interface SkewOptions {
  shown: ExpiryPicture[];
  focus: ExpiryPicture | undefined;
  axis: Axis;
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

  const [bottom, top] = [Math.min(...drawn), Math.max(...drawn)];
  const pad = 0.08 * (top - bottom || 1);
  const range = [bottom - pad, top + pad];
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

function focusMarks(focus: ExpiryPicture, o: SkewOptions): Data[] {
  const smile = expirySmile(focus);
  const color = expiryColor(focus.days, o.palette);
  const at = (strike: number, volatility: number) => {
    const fitted = smile ? smileVolatility(smile, Math.log(strike / focus.forward)) : volatility;
    return { x: axisValue(o.axis, focus, strike, fitted), fitted };
  };
  const quotes = drawnQuotes(focus).filter((q) => q.mid !== null || q.bid !== null || q.ask !== null);
  const good = quotes
    .filter((q) => q.verdict === null && q.mid !== null)
    .map((q) => ({ ...q, ...at(q.strike, q.mid ?? 0) }));
  // One line with gaps: of error bars each would be an element.
  const whiskers = (name: string, yaxis: 'y' | 'y2', under: (q: (typeof good)[number]) => number): Data => ({
    type: 'scatter',
    mode: 'lines',
    name,
    yaxis,
    x: good.flatMap((q) => [q.x, q.x, null]),
    y: good.flatMap((q) => [...[q.bid ?? q.mid, q.ask ?? q.mid].map((v) => ((v ?? 0) - under(q)) * 100), null]),
    line: { color, width: 1.1 },
    hoverinfo: 'skip',
  });
  // Every trace costs Plotly about as much as its points: sides share one, and the strip has needles for marks.
  const marks: Data[] = [
    whiskers('bid to offer', 'y', () => 0),
    whiskers('bid to offer minus fit', 'y2', (q) => q.fitted),
    {
      type: 'scatter',
      mode: 'lines',
      name: 'mid minus fit',
      yaxis: 'y2',
      x: good.flatMap((q) => [q.x, q.x, null]),
      y: good.flatMap((q) => [0, ((q.mid ?? 0) - q.fitted) * 100, null]),
      line: { color, width: 4 },
      hoverinfo: 'skip',
    },
    {
      type: 'scatter',
      mode: 'markers',
      name: 'mid',
      x: good.map((q) => q.x),
      y: good.map((q) => (q.mid ?? 0) * 100),
      marker: {
        size: 5,
        color: good.map((q) => (q.side === 'call' ? color : o.palette.paper)),
        line: { color, width: 1.2 },
      },
      customdata: good.map((q) => `${q.strike}/${q.side}`),
      text: good.map(
        (q) => `${strikeText(q.strike)} ${q.side}: ${volatilityText(q.bid)} to ${volatilityText(q.ask)} %`,
      ),
      hovertemplate: '%{text}<extra></extra>',
    },
  ];
  const out = quotes.filter((q) => q.verdict !== null && (q.mid ?? q.bid ?? q.ask) !== null);
  if (out.length === 0) return marks;
  marks.push({
    type: 'scatter',
    mode: 'markers',
    x: out.map((q) => at(q.strike, q.mid ?? q.bid ?? q.ask ?? 0).x),
    y: out.map((q) => (q.mid ?? q.bid ?? q.ask ?? 0) * 100),
    marker: { symbol: 'circle-open-dot', size: 8, color: o.palette.faint, line: { width: 1.2 } },
    customdata: out.map((q) => `${q.strike}/${q.side}`),
    text: out.map(
      (q) => `${strikeText(q.strike)} ${q.side}: ${reasonWords(q.verdict ?? 'stale')}; click to put it back`,
    ),
    hovertemplate: '%{text}<extra></extra>',
    name: 'kept out',
  });
  return marks;
}

/** Residuals of the usual size fill the strip; the far wing's wide markets may leave it. */
function residualRange(focus: ExpiryPicture | undefined): [number, number] {
  const widths = focus
    ? drawnQuotes(focus).flatMap((q) => (q.verdict === null && q.bid !== null && q.ask !== null ? [q.ask - q.bid] : []))
    : [];
  const sorted = widths.sort((a, b) => a - b);
  const limit = Math.max(0.2, (sorted[Math.floor(sorted.length * 0.8)] ?? 0.01) * 100);
  return [-limit, limit];
}

function describe(picture: Picture, o: SkewOptions): string {
  const rows = o.shown.map((e) => `${dateText(e.date, picture.asOf)} ${volatilityText(e.atm)} %`);
  return `Implied volatility of ${picture.underlying.symbol} by ${AXIS_TITLES[o.axis]}; at the money: ${rows.join(', ')}.`;
}
