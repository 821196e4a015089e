import type { CurveAxis, PricerInputs } from '../../api/pricer-inputs.ts';

const POINTS = 72;
/** Reach of price axes in standard deviations to expiry. */
const REACH = 3;
const LEAST_SHARE = 0.05;

/** Values of an input along which a curve is drawn: around the present and the pinned state, ascending. */
export function curveRange(axis: CurveAxis, inputs: PricerInputs, pinned?: PricerInputs): number[] {
  const states = pinned ? [inputs, pinned] : [inputs];
  const [low, high] = bounds(axis, states);
  return Array.from({ length: POINTS + 1 }, (_, i) => low + ((high - low) * i) / POINTS);
}

function bounds(axis: CurveAxis, states: PricerInputs[]): [number, number] {
  const present = states.map((s) => s[axis]);
  switch (axis) {
    case 'underlying':
    case 'strike': {
      const centers = states.flatMap((s) => [s.underlying, s.strike]);
      const spread = Math.max(...states.map((s) => deviationOf(s)));
      const isNormal = states.some((s) => s.model === 'normal');
      const reach = Math.max(REACH * spread, LEAST_SHARE);
      const scale = Math.max(...centers.map(Math.abs));
      if (isNormal) return [Math.min(...centers) - reach * scale, Math.max(...centers) + reach * scale];
      return [Math.min(...centers) * Math.exp(-reach), Math.max(...centers) * Math.exp(reach)];
    }
    case 'days':
      return [0, Math.max(1, 2 * Math.max(...present))];
    case 'volatility':
      return [0, Math.max(2 * Math.max(...present), states.every((s) => s.model === 'normal') ? 1 : 0.3)];
    default:
      return [Math.min(-0.02, ...present.map((v) => v - 0.01)), Math.max(0.1, ...present.map((v) => v + 0.01))];
  }
}

/** Standard deviation to expiry as a share of the price. */
function deviationOf(s: PricerInputs): number {
  const deviation = s.volatility * Math.sqrt(s.days / 365);
  const share =
    s.model === 'normal' ? deviation / Math.max(Math.abs(s.underlying), Math.abs(s.strike), 1e-9) : deviation;
  return Math.min(share, 0.5);
}
