import { smileVolatility } from '@umwelt/core/surface';
import type { Data } from 'plotly.js';
import { expirySmile } from '../../theory/index.ts';
import { strikeText, volatilityText } from '../../ui/format.ts';
import { reasonWords } from '../../market/index.ts';
import type { ExpiryPicture } from '../../api/picture.ts';
import type { Side } from '../../api/quantity.ts';
import { expiryColor, type Palette } from '../../ui/palette.ts';
import type { Strokes } from '../../ui/strokes.ts';
import type { SkewAxis } from './parameters.ts';
import { axisValue } from './skew-axis.ts';

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

/** The market of the expiry in focus as whiskers and mids, quotes kept out as rings, and below both less the fit. */
export function focusMarks(
  focus: ExpiryPicture,
  o: { axis: SkewAxis; palette: Palette },
): { whiskers: Strokes[]; marks: Data[] } {
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
  const x = good.flatMap((q) => [q.x, q.x, null]);
  const ends = (under: (q: (typeof good)[number]) => number) =>
    good.flatMap((q) => [...[q.bid ?? q.mid, q.ask ?? q.mid].map((v) => ((v ?? 0) - under(q)) * 100), null]);
  const needles = good.flatMap((q) => [0, ((q.mid ?? 0) - q.fitted) * 100, null]);
  const whiskers: Strokes[] = [
    { name: 'bid to offer', x, y: ends(() => 0), yaxis: 'y', color, width: 1.1 },
    { name: 'bid to offer minus fit', x, y: ends((q) => q.fitted), yaxis: 'y2', color, width: 1.1 },
    { name: 'mid minus fit', x, y: needles, yaxis: 'y2', color, width: 4 },
  ];
  const marks: Data[] = [
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
        (q) => `${strikeText(q.strike)} ${q.side}, ${volatilityText(q.bid)} to ${volatilityText(q.ask)} %`,
      ),
    },
  ];
  const out = quotes.filter((q) => q.verdict !== null && (q.mid ?? q.bid ?? q.ask) !== null);
  if (out.length === 0) return { whiskers, marks };
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
    name: 'excluded',
  });
  return { whiskers, marks };
}

/** Lowest bid and highest offer of the fitted quotes, percent; Infinity and its negative without any. */
export function whiskerReach(focus: ExpiryPicture): { low: number; high: number } {
  const good = drawnQuotes(focus).filter((q) => q.verdict === null && q.mid !== null);
  return {
    low: 100 * Math.min(...good.map((q) => q.bid ?? q.mid ?? Infinity)),
    high: 100 * Math.max(...good.map((q) => q.ask ?? q.mid ?? -Infinity)),
  };
}

/** Residuals of the usual size fill the strip; the far wing's wide markets may leave it. */
export function residualRange(focus: ExpiryPicture | undefined): [number, number] {
  const widths = focus
    ? drawnQuotes(focus).flatMap((q) => (q.verdict === null && q.bid !== null && q.ask !== null ? [q.ask - q.bid] : []))
    : [];
  const sorted = widths.sort((a, b) => a - b);
  const limit = Math.max(0.2, (sorted[Math.floor(sorted.length * 0.8)] ?? 0.01) * 100);
  return [-limit, limit];
}
