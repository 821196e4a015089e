export { normalDensity, normalCdf, normalCdfOverDensity, normalQuantile } from './normal-distribution.ts';
export { normalMomentRatio } from './normal-moment-ratio.ts';
export { logRatio } from './log-ratio.ts';
export { findRoot, type RootResult } from './find-root.ts';
export { median } from './median.ts';
export { solveLinear } from './solve-linear.ts';
export { tableExp, tableLog, tableErfcx, tableErfcxDifference } from './table-functions.ts';
export { gaussLegendre } from './gauss-legendre.ts';
export { chebyshevPoints, chebyshevInterpolationWeights } from './chebyshev-interpolation.ts';
