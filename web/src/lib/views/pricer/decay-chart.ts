import type { Annotations, Data, ScatterData } from 'plotly.js';
import type { DecayLine, PricerDecay } from '../../theory/index.ts';
import { axisStyle, axisTitle, baseLayout, type Chart, cornerLabel } from '../../ui/chart.ts';
import { expiryColor, type Palette } from '../../ui/palette.ts';

interface DecayLook {
  nearLabel: string;
  farLabel: string;
  /** Words of the bands: "1 and 2 volatility points" */
  bandWords: string;
  factor: number;
  palette: Palette;
}

/** Value of the same strike in two expiries as days pass, each with the bands that volatility makes. */
export function decayChart(decay: PricerDecay, o: DecayLook): Chart {
  const { palette } = o;
  const data: Data[] = [];
  const annotations: Partial<Annotations>[] = [cornerLabel(`value; bands: ± ${o.bandWords}`, palette)];
  const draw = (line: DecayLine, label: string, dash: 'solid' | 'dash') => {
    const color = expiryColor(line.days[line.days.length - 1], palette);
    for (const [low, high, opacity] of [
      [0, 4, 0.12],
      [1, 3, 0.18],
    ]) {
      data.push(edge(line, high, o.factor), {
        ...edge(line, low, o.factor),
        fill: 'tonexty',
        fillcolor: faded(color, opacity),
      });
    }
    data.push({
      type: 'scatter',
      mode: 'lines',
      x: line.days,
      y: line.values[2].map((v) => v * o.factor),
      line: { color, width: 2, dash },
      name: label,
      hovertemplate: `%{y:.5~g}<extra>${label}</extra>`,
    });
    annotations.push({
      x: line.days[0],
      y: line.values[2][0] * o.factor,
      text: label,
      showarrow: false,
      xanchor: 'left',
      yanchor: 'bottom',
      xshift: 6,
      font: { size: 11.5, color: palette.ink },
      bgcolor: palette.paper,
    });
  };
  draw(decay.far, o.farLabel, 'dash');
  draw(decay.near, o.nearLabel, 'solid');
  const axis = axisStyle(palette);
  return {
    data,
    description: `Value as days pass: ${o.nearLabel} solid, ${o.farLabel} dashed, with bands of ${o.bandWords}.`,
    layout: {
      ...baseLayout(palette),
      margin: { l: 62, r: 20, t: 26, b: 40 },
      xaxis: {
        ...axis,
        showgrid: false,
        rangemode: 'tozero',
        title: axisTitle('calendar days from now', palette),
      },
      yaxis: { ...axis, nticks: 6, rangemode: 'tozero' },
      annotations,
    },
  };
}

function edge(line: DecayLine, which: number, factor: number): Partial<ScatterData> {
  return {
    type: 'scatter',
    mode: 'lines',
    x: line.days,
    y: line.values[which].map((v) => v * factor),
    line: { width: 0 },
    hoverinfo: 'skip',
  };
}

function faded(color: string, opacity: number): string {
  const channel = (i: number) => Number.parseInt(color.slice(1 + 2 * i, 3 + 2 * i), 16);
  return `rgba(${channel(0)},${channel(1)},${channel(2)},${opacity})`;
}
