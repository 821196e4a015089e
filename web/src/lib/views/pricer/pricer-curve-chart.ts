import type { Annotations, Data, Shape } from 'plotly.js';
import type { PricerCurve } from '../../theory/index.ts';
import type { CurveAxis, PricerInputs } from '../../api/pricer-inputs.ts';
import { axisStyle, axisTitle, baseLayout, type Chart, cornerLabel } from '../../ui/chart.ts';
import type { Palette } from '../../ui/palette.ts';

interface CurveLook {
  axis: CurveAxis;
  axisLabel: string;
  measureLabel: string;
  /** Multiplies the measure (basis) and the axis (percent) */
  factor: number;
  axisFactor: number;
  inputs: PricerInputs;
  isOwn: boolean;
  /** Present value of the measure, where it is known */
  now?: number;
  palette: Palette;
}

/** One measure along one input: the present state solid, the pinned one dashed, the present input marked. */
export function pricerCurveChart(curve: PricerCurve, o: CurveLook): Chart {
  const { palette } = o;
  const x = curve.x.map((value) => value * o.axisFactor);
  const scaled = (values: (number | null)[]) => values.map((v) => (v === null ? null : v * o.factor));
  const y = scaled(curve.y);
  const data: Data[] = [];
  const annotations: Partial<Annotations>[] = [cornerLabel(o.measureLabel, palette)];
  if (curve.pinned) {
    const pinnedY = scaled(curve.pinned);
    data.push(line(x, pinnedY, { color: palette.soft, width: 1.4, dash: 'dash' }, 'pinned'));
    annotations.push(endLabel(x, pinnedY, 'pinned', palette.soft, y));
  }
  data.push(line(x, y, { color: palette.implied, width: 1.8 }, 'now'));
  annotations.push(endLabel(x, y, 'now', palette.implied));
  const at = o.inputs[o.axis] * o.axisFactor;
  if (o.now !== undefined) {
    data.push({
      type: 'scatter',
      mode: 'markers',
      x: [at],
      y: [o.now * o.factor],
      marker: {
        size: 10,
        symbol: 'diamond',
        color: o.isOwn ? palette.own : palette.implied,
        line: { color: palette.paper, width: 1 },
      },
      hoverinfo: 'skip',
    });
  }
  const shapes: Partial<Shape>[] = [upright(at, o.isOwn ? palette.own : palette.faint)];
  if (o.axis === 'underlying') {
    shapes.push(upright(o.inputs.strike, palette.line));
    annotations.push(topLabel(o.inputs.strike, 'strike', palette.soft));
  }
  const axis = axisStyle(palette);
  return {
    data,
    description: `${o.measureLabel} by ${o.axisLabel}${curve.pinned ? ', with the pinned state' : ''}.`,
    layout: {
      ...baseLayout(palette),
      margin: { l: 62, r: 52, t: 26, b: 40 },
      xaxis: {
        ...axis,
        showgrid: false,
        range: [x[0], x[x.length - 1]],
        nticks: 8,
        title: axisTitle(o.axisLabel, palette),
      },
      yaxis: { ...axis, nticks: 6, zeroline: true, zerolinecolor: palette.line },
      annotations,
      shapes,
    },
  };
}

function line(
  x: number[],
  y: (number | null)[],
  style: { color: string; width: number; dash?: 'dash' },
  name: string,
): Data {
  return { type: 'scatter', mode: 'lines', x, y, line: style, name, hovertemplate: `%{y:.5~g}<extra>${name}</extra>` };
}

/** The name of a line at its end; moved off the other's end when they meet there. */
function endLabel(
  x: number[],
  y: (number | null)[],
  text: string,
  color: string,
  other?: (number | null)[],
): Partial<Annotations> {
  const last = y.findLastIndex((v) => v !== null);
  const own = y[last] ?? 0;
  const span = Math.max(...y.map((v) => v ?? -Infinity)) - Math.min(...y.map((v) => v ?? Infinity));
  const beside = other?.[last] ?? undefined;
  const isClose = beside !== undefined && beside !== null && Math.abs(beside - own) < 0.07 * span;
  return {
    x: x[last],
    y: own,
    text,
    showarrow: false,
    xanchor: 'left',
    xshift: 4,
    yshift: isClose ? (own >= (beside ?? 0) ? 12 : -12) : 0,
    font: { size: 11.5, color },
  };
}

function upright(x: number, color: string): Partial<Shape> {
  return {
    type: 'line',
    x0: x,
    x1: x,
    y0: 0,
    y1: 1,
    yref: 'paper',
    line: { color, width: 1, dash: 'dot' },
    layer: 'below',
  };
}

function topLabel(x: number, text: string, color: string): Partial<Annotations> {
  return { x, y: 1, yref: 'paper', text, showarrow: false, yanchor: 'bottom', font: { size: 11.5, color } };
}
