import type { Annotations } from 'plotly.js';
import { dateText, numberText, tickDecimals } from '../../ui/format.ts';
import type { Overview } from '../../api/picture.ts';
import type { SurfaceResource } from '../../api/surface-resource.ts';
import { axisStyle, axisTitle, baseLayout, type Chart, dateAxis } from '../../ui/chart.ts';
import type { Palette } from '../../ui/palette.ts';

const DAY = 86_400_000;

/** How the prices of delivery months lie: each dearer than the one before, each cheaper, or neither. */
export function curveLabel(prices: readonly number[]): 'rising' | 'falling' | 'mixed' | 'single' {
  if (prices.length < 2) return 'single';
  const steps = prices.slice(1).map((price, i) => price - prices[i]);
  if (steps.every((s) => s >= 0)) return 'rising';
  return steps.every((s) => s <= 0) ? 'falling' : 'mixed';
}

/** Where a point's label does not lie on the line: above a peak, below a valley, beside a slope. */
function besideLine(prices: readonly number[], i: number): Partial<Annotations> {
  const before = Math.sign(prices[i] - (prices[i - 1] ?? prices[i]));
  const after = Math.sign((prices[i + 1] ?? prices[i]) - prices[i]);
  if (before >= 0 && after <= 0) return { yshift: 13 };
  if (before <= 0 && after >= 0) return { yshift: -13 };
  return before > 0 ? { xanchor: 'right', xshift: -4, yshift: 8 } : { xanchor: 'left', xshift: 4, yshift: 8 };
}

/** Prices of a future's delivery months along the calendar, those of its other days beside it as well. */
export function futuresCurveChart(
  picture: Overview,
  o: { beside: { picture: SurfaceResource; name: string }[]; palette: Palette },
): Chart {
  const { deliveries, prices } = picture.futuresCurve ?? { deliveries: [], prices: [] };
  const decimals = tickDecimals(picture.underlying.underlyingTick);
  // Prices of another underlying have another scale.
  const others = o.beside.filter(
    ({ picture: other }) => other.futuresCurve !== null && other.underlying.symbol === picture.underlying.symbol,
  );
  const axis = axisStyle(o.palette);
  return {
    data: [
      ...others.map(({ picture: other, name }) => ({
        type: 'scatter' as const,
        mode: 'lines+markers' as const,
        x: other.futuresCurve?.deliveries,
        y: other.futuresCurve?.prices,
        line: { color: o.palette.soft, width: 1.2, dash: 'longdash' as const },
        marker: { size: 4, color: o.palette.soft },
        name,
        text: other.futuresCurve?.prices.map((price) => numberText(price, decimals)),
      })),
      {
        type: 'scatter',
        mode: 'lines+markers',
        x: deliveries,
        y: prices,
        line: { color: o.palette.ink, width: 1.6 },
        marker: { size: 8, color: o.palette.ink },
        name: 'price',
        text: prices.map((price) => numberText(price, decimals)),
      },
    ],
    description: `Prices of ${picture.underlying.symbol} by delivery month: ${deliveries.map((d, i) => `${dateText(d, picture.asOf)} ${numberText(prices[i], decimals)}`).join(', ')}.`,
    // Days from the instant, as Term has them.
    place: {
      toShared: (x) => (Date.parse(String(x)) - Date.parse(picture.asOf)) / DAY,
      fromShared: (days) => new Date(Date.parse(picture.asOf) + days * DAY).toISOString().slice(0, 10),
    },
    titleAt: (x) => `delivery ${dateText(String(x), picture.asOf)}`,
    layout: {
      ...baseLayout(o.palette),
      margin: { l: 56, r: 60, t: 26, b: 42 },
      xaxis: {
        ...dateAxis(deliveries, o.palette),
        nticks: 4,
        title: axisTitle('delivery', o.palette),
      },
      yaxis: { ...axis, nticks: 7 },
      annotations: [
        {
          text: `price, ${picture.underlying.currency}`,
          x: 0,
          y: 1.08,
          xref: 'paper',
          yref: 'paper',
          showarrow: false,
          xanchor: 'left',
          xshift: -50,
          font: { color: o.palette.soft },
        },
        ...deliveries.map((d, i) => ({
          x: d,
          y: prices[i],
          text: numberText(prices[i], decimals),
          showarrow: false,
          ...besideLine(prices, i),
          font: { size: 11.5, color: o.palette.ink },
        })),
        ...others.map(({ picture: other, name }) => ({
          x: other.futuresCurve?.deliveries.at(-1),
          y: other.futuresCurve?.prices.at(-1),
          text: name,
          showarrow: false,
          xanchor: 'left' as const,
          xshift: 6,
          font: { size: 11.5, color: o.palette.soft },
        })),
      ],
    },
  };
}
