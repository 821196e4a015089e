import type { DecayLine, PricerDecay } from '../../theory/index.ts';
import { daysText, significantText } from '../../ui/format.ts';
import type { LineChart } from '../../ui/line-chart.ts';
import { expiryColor, type Palette } from '../../ui/palette.ts';

interface DecayLook {
  nearLabel: string;
  farLabel: string;
  /** Words of the bands: "1 and 2 volatility points" */
  bandWords: string;
  factor: number;
  palette: Palette;
}

/** Lines of the bands by their index, and how much the area between them shows. */
const BANDS = [
  { low: 0, high: 4, opacity: 0.12 },
  { low: 1, high: 3, opacity: 0.18 },
];

/** Value of the same strike in two expiries as days pass, each with the bands that volatility makes. */
export function decayChart(decay: PricerDecay, o: DecayLook): LineChart {
  const drawn = [
    { line: decay.far, name: o.farLabel, dash: '6 3' },
    { line: decay.near, name: o.nearLabel, dash: undefined },
  ].map((d) => ({ ...d, color: expiryColor(d.line.days[d.line.days.length - 1], o.palette) }));
  const values = (line: DecayLine, which: number) => line.values[which].map((v) => v * o.factor);
  return {
    lines: drawn.map(({ line, name, dash, color }) => ({
      ...{ name, dash, color, width: 2 },
      x: line.days,
      y: values(line, 2),
    })),
    bands: drawn.flatMap(({ line, color }) =>
      BANDS.map(({ low, high, opacity }) => ({
        ...{ color, opacity, x: line.days },
        low: values(line, low),
        high: values(line, high),
      })),
    ),
    across: {
      title: 'calendar days from now',
      range: [0, Math.max(...drawn.map(({ line }) => line.days[line.days.length - 1]))],
      text: daysText,
    },
    up: {
      title: `value, ± ${o.bandWords}`,
      isFromZero: true,
      text: (value) => significantText(value),
    },
    namesAt: 'start',
    description: `Value as days pass: ${o.nearLabel} solid, ${o.farLabel} dashed, with bands of ${o.bandWords}.`,
  };
}
