import type { PricerCurve } from '../../theory/index.ts';
import type { CurveAxis, PricerInputs } from '../../api/pricer-inputs.ts';
import { significantText } from '../../ui/format.ts';
import type { LineChart } from '../../ui/line-chart.ts';
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
export function pricerCurveChart(curve: PricerCurve, o: CurveLook): LineChart {
  const { palette } = o;
  const x = curve.x.map((value) => value * o.axisFactor);
  const scaled = (values: (number | null)[]) => values.map((v) => (v === null ? null : v * o.factor));
  const pinned = curve.pinned
    ? [{ name: 'pinned', color: palette.soft, width: 1.4, dash: '6 3', x, y: scaled(curve.pinned) }]
    : [];
  const at = o.inputs[o.axis] * o.axisFactor;
  const color = o.isOwn ? palette.own : palette.implied;
  return {
    lines: [...pinned, { name: 'now', color: palette.implied, width: 1.8, x, y: scaled(curve.y) }],
    mark: o.now === undefined ? undefined : { x: at, y: o.now * o.factor, color },
    uprights: [
      { x: at, color: o.isOwn ? palette.own : palette.faint },
      ...(o.axis === 'underlying' ? [{ x: o.inputs.strike, color: palette.line, name: 'strike' }] : []),
    ],
    across: { title: o.axisLabel, range: [x[0], x[x.length - 1]], text: (value) => significantText(value) },
    up: { title: o.measureLabel, text: (value) => significantText(value) },
    description: `${o.measureLabel} by ${o.axisLabel}${curve.pinned ? ', with the pinned state' : ''}.`,
  };
}
