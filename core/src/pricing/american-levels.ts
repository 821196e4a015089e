import { type AmericanScheme, americanScheme, type SchemeSize } from './american-scheme.ts';

/** How near an American price comes to the exact one of its model. */
export type Accuracy = 'draft' | 'fast' | 'default' | 'fine' | 'exact';

/**
 * Sizes of the collocation by accuracy. On 500 contracts with spot 100, strikes 60 to 140, 7 days to 3 years, rates and
 * yields to 10 %, volatility 5 to 80 %: fast errs by 1.3e-4 rms, default by 2.5e-6 rms and 3e-5 at most, fine (for
 * inversion) by 1e-6 at most, exact by less than 1e-9 of the strike. The larger systems start from the plain guess: the
 * interpolant of a smaller one sets their nodes next to expiry worse.
 */
const FAST: SchemeSize = {
  boundaryNodes: 6,
  boundaryQuadrature: 8,
  priceQuadrature: 15,
  iterations: 40,
  settled: 0.1,
  coarse: { boundaryNodes: 4, boundaryQuadrature: 6, iterations: 40, settled: 0.1 },
};
const SIZES: Record<Accuracy, SchemeSize> = {
  // Differs from fast only where finite differences serve.
  draft: FAST,
  fast: FAST,
  default: {
    boundaryNodes: 10,
    boundaryQuadrature: 16,
    priceQuadrature: 24,
    iterations: 40,
    settled: 0.001,
    coarse: { boundaryNodes: 5, boundaryQuadrature: 10, iterations: 40, settled: 0.02 },
  },
  fine: {
    boundaryNodes: 16,
    boundaryQuadrature: 32,
    priceQuadrature: 48,
    iterations: 40,
    settled: 1e-6,
  },
  exact: {
    boundaryNodes: 28,
    boundaryQuadrature: 64,
    priceQuadrature: 120,
    iterations: 60,
    settled: 1e-11,
  },
};

const SCHEMES = new Map<Accuracy, AmericanScheme>();

/** The scheme of a level, made on first use. */
export function schemeOf(accuracy: Accuracy): AmericanScheme {
  let scheme = SCHEMES.get(accuracy);
  if (!scheme) SCHEMES.set(accuracy, (scheme = americanScheme(SIZES[accuracy])));
  return scheme;
}
