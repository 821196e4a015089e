export {
  normalDensity,
  normalCdf,
  normalCdfByBell,
  normalCdfOverDensity,
  normalQuantile,
} from './normal-distribution.ts';
export { normalMomentRatio } from './normal-moment-ratio.ts';
export { logRatio } from './log-ratio.ts';
export { findRoot, type RootResult } from './find-root.ts';
export { median } from './median.ts';
export { solveLinear } from './solve-linear.ts';
export { type LeastSquaresProblem, type LeastSquaresResult, leastSquares } from './least-squares.ts';
export { tableExp, tableLog, tableErfcx, tableErfcxDifference } from './table-functions.ts';
export { gaussLegendre } from './gauss-legendre.ts';
export { chebyshevPoints, chebyshevInterpolationWeights } from './chebyshev-interpolation.ts';
export { quantile } from './quantile.ts';
export { studentTCdf } from './student-t.ts';
export { chiSquaredTail } from './chi-squared.ts';
export { type NaturalSpline, naturalSpline } from './natural-spline.ts';
