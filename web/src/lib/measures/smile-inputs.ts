import { expirySmile } from '../theory/index.ts';
import type { ExpiryOverview } from '../api/picture.ts';
import { subscript } from './formula.ts';
import { type Derivation, formula, none, type WorkingsInput } from './measure.ts';

const SVI =
  'Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71';
const SPLINE = 'Reinsch, C. H. (1967). Smoothing by spline functions. Numerische Mathematik 10, 177-183';

/** Where the form of an expiry's smile is published. */
export function smileSource({ smile }: ExpiryOverview): string {
  return smile?.model === 'spline' ? SPLINE : SVI;
}

const SVI_FORM = 'w = a + b (ρ (k − m) + √((k − m)² + ς²))';
const SPLINE_FORM = 'w = l w₁ + r w₂ + (h² / 6) ((l³ − l) c₁ + (r³ − r) c₂), r = 1 − l, l = (k₂ − k) / h, h = k₂ − k₁';
const BEYOND_FORM = 'w = w₁ + g (k − k₁)';

/**
 * Volatility of a fitted smile.
 * @param at log-moneyness: 0, or of the strike K by the forward F
 */
export function smileFormula({ smile }: ExpiryOverview, at: 'k = 0' | 'k = ln(K / F)', k: number): Derivation {
  switch (smile?.model) {
    case 'svi-raw':
      return formula(`σ = √(w / T), ${SVI_FORM}, ${at}`);
    case 'spline': {
      const form = knotsAround(smile.parameters.knots, k).length === 1 ? BEYOND_FORM : SPLINE_FORM;
      return formula(`σ = √(w / T), ${form}, ${at}`);
    }
    case 'flat':
      return formula('v');
    default:
      return none('no smile could be fitted');
  }
}

/** Parameters of the fitted smile that tell its volatility at a log-moneyness. */
export function smileParameters(expiry: ExpiryOverview, k: number): WorkingsInput[] {
  const parameter = (symbol: string, label: string, value: number, source: string): WorkingsInput => ({
    ...{ symbol, label, value, source },
    unit: 'factor',
  });
  switch (expiry.smile?.model) {
    case 'svi-raw': {
      const { a, b, rho, m, sigma } = expiry.smile.parameters;
      const source = 'least squares, weighted with market width';
      return [
        parameter('a', 'level', a, source),
        parameter('b', 'wing slope', b, source),
        parameter('ρ', 'tilt', rho, source),
        parameter('m', 'shift', m, source),
        parameter('ς', 'roundness', sigma, source),
      ];
    }
    case 'spline': {
      const { knots, totalVariance, curvature } = expiry.smile.parameters;
      const around = knotsAround(knots, k);
      const inputs = around.flatMap((i, j): WorkingsInput[] => [
        parameter(`k${subscript(j + 1)}`, 'knot, ln(K / F)', knots[i], 'the next quoted strike'),
        parameter(
          `w${subscript(j + 1)}`,
          'total variance there',
          totalVariance[i],
          'smoothest spline inside the market',
        ),
        parameter(`c${subscript(j + 1)}`, 'second derivative there', curvature[i], 'the same spline'),
      ]);
      const slope = expirySmile(expiry)?.slope(k) ?? NaN;
      return around.length > 1 ? inputs : [...inputs, parameter('g', 'slope beyond it', slope, 'the same spline')];
    }
    case 'flat':
      return [
        {
          symbol: 'v',
          label: 'level of the few quotes',
          value: expiry.smile.parameters.volatility,
          unit: 'volatility',
          source: 'weighted mean of their mids',
        },
      ];
    default:
      return [];
  }
}

/** Places of the knots on both sides of a log-moneyness; the outermost alone beyond them. */
function knotsAround(knots: readonly number[], k: number): number[] {
  const right = knots.findIndex((knot) => knot > k);
  if (right === 0) return [0];
  if (right === -1) return [knots.length - 1];
  return [right - 1, right];
}
