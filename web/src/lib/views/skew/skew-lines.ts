import { type Smile, smileVolatility } from '@umwelt/core/surface';
import type { Data } from 'plotly.js';
import type { ExpiryPicture } from '../../api/picture.ts';
import { borrowedSmileOf, expirySmile } from '../../theory/index.ts';
import { dateText, volatilityText } from '../../ui/format.ts';
import { expiryColor, type Palette } from '../../ui/palette.ts';
import type { SkewAxis } from './parameters.ts';
import { axisValue } from './skew-axis.ts';

const CURVE_POINTS = 90;
const WIDTH = { line: 1.4, focus: 2.4, borrowed: 2 };

/** A smile as it is drawn, with where its name stands. */
export interface SkewLine {
  trace: Data;
  /** In percent */
  volatilities: number[];
  name: { x: number; y: number; text: string; isFocus: boolean; isMonthly: boolean };
}

interface LineOptions {
  axis: SkewAxis;
  palette: Palette;
  /** Whose year dates are written without */
  asOf: string;
}

/** The fitted smiles of expiries over the quotes behind them, the one in focus thicker. */
export function fittedLines(
  shown: readonly ExpiryPicture[],
  focus: ExpiryPicture | undefined,
  o: LineOptions,
): SkewLine[] {
  return shown.flatMap((expiry): SkewLine[] => {
    const smile = expirySmile(expiry);
    if (!smile) return [];
    const { x, y } = curveOf(smile, expiry, o.axis);
    const isFocus = expiry.date === focus?.date;
    const text = dateText(expiry.date, o.asOf);
    const line = { color: expiryColor(expiry.days, o.palette), width: isFocus ? WIDTH.focus : WIDTH.line };
    return [
      {
        trace: lineTrace(x, y, text, line),
        volatilities: y,
        name: { x: x[x.length - 1], y: y[y.length - 1], text, isFocus, isMonthly: expiry.isMonthly },
      },
    ];
  });
}

/** The smile that an expiry borrows, over its own quotes; its name stands at the left. */
export function borrowedLine(focus: ExpiryPicture | undefined, o: LineOptions): SkewLine | undefined {
  const smile = focus && borrowedSmileOf(focus);
  if (!focus?.borrowed || !smile || !focus.smile) return undefined;
  const { x, y } = curveOf(smile, focus, o.axis);
  const text = `${focus.borrowed.donor}'s smile`;
  return {
    trace: lineTrace(x, y, text, { color: o.palette.implied, width: WIDTH.borrowed, dash: 'dash' }),
    volatilities: y,
    name: { x: x[0], y: y[0], text, isFocus: false, isMonthly: true },
  };
}

/** A smile over the quotes behind an expiry's own: places on the axis, and volatilities in percent. */
function curveOf(smile: Smile, expiry: ExpiryPicture, axis: SkewAxis): { x: number[]; y: number[] } {
  const [low, high] = expiry.smile?.range ?? [0, 0];
  const x: number[] = [];
  const y: number[] = [];
  for (let n = 0; n <= CURVE_POINTS; n++) {
    const k = low + ((high - low) * n) / CURVE_POINTS;
    const volatility = smileVolatility(smile, k);
    x.push(axisValue(axis, expiry, expiry.forward * Math.exp(k), volatility));
    y.push(volatility * 100);
  }
  return { x, y };
}

function lineTrace(
  x: number[],
  y: number[],
  name: string,
  line: { color: string; width: number; dash?: 'dash' },
): Data {
  return { type: 'scatter', mode: 'lines', x, y, name, line, text: y.map((v) => `${volatilityText(v / 100)} %`) };
}
