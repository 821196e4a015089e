import { chebyshevInterpolationWeights, chebyshevPoints, gaussLegendre } from '../math/index.ts';

/** Sizes of the collocation: boundary nodes, quadrature nodes of the boundary and of the price, iterations. */
export interface SchemeSize {
  boundaryNodes: number;
  boundaryQuadrature: number;
  priceQuadrature: number;
  /** Most Newton steps on the boundary */
  iterations: number;
  /** Change of the boundary's logarithm in a step that makes it the last; the error left is about its square */
  settled: number;
  /** A smaller system solved first, whose boundary is the first guess */
  coarse?: Omit<SchemeSize, 'priceQuadrature' | 'coarse'>;
}

/** Boundary of a put with strike 1 on the nodes of a scheme. */
export interface PutBoundary {
  /** ln of the boundary just before expiry over the strike */
  logStart: number;
  /** Squared ln of boundary over strike at the scheme's nodes: [0] with all time left, the last with none */
  transform: Float64Array;
  /** Largest change of the boundary's logarithm in the last step */
  lastChange: number;
}

/** Room for one boundary of `nodes` nodes and its known end, to be used again. */
export function putBoundary(nodes: number): PutBoundary {
  return { logStart: 0, transform: new Float64Array(nodes + 1), lastChange: 0 };
}

/**
 * Everything about the collocation that no contract changes. Time to expiry is mapped to xi = sqrt(tau / T); the
 * quadrature over earlier times u of a node tau runs over an angle with u = tau cos^2, tau - u = tau sin^2, so that
 * both the kernel's 1 / sqrt(tau - u) and the boundary's sqrt(u) become smooth.
 */
export interface AmericanScheme extends Omit<SchemeSize, 'coarse'> {
  /** Interpolation is [node][coarse node] */
  coarse?: { scheme: AmericanScheme; boundary: PutBoundary; interpolation: Float64Array };
  /** xi of the boundary nodes, from 1 (T) down, without the last one at 0 */
  xi: Float64Array;
  /** sin and cos of the angles, and weights including the angle's interval and 2 sin cos of du */
  sine: Float64Array;
  cosine2: Float64Array;
  weight: Float64Array;
  /** [node][quadrature][node]: interpolation from the boundary nodes and the end to the quadrature points */
  interpolation: Float64Array;
  /** Room for the equations of the boundary */
  jacobian: Float64Array;
  residual: Float64Array;
  priceSine: Float64Array;
  priceCosine2: Float64Array;
  priceWeight: Float64Array;
  /** [quadrature][node] */
  priceInterpolation: Float64Array;
}

/** Room that the solution of a boundary has: nodes, and quadrature points over all of them. */
export const MOST_NODES = 64;
export const MOST_POINTS = MOST_NODES * 128;

/** @throws RangeError for sizes beyond that room */
export function americanScheme(size: SchemeSize): AmericanScheme {
  const { boundaryNodes: n } = size;
  if (n > MOST_NODES || n * size.boundaryQuadrature > MOST_POINTS) {
    throw new RangeError(
      `a scheme has at most ${MOST_NODES} nodes and ${MOST_POINTS} points: ${n} x ${size.boundaryQuadrature}`,
    );
  }
  const points = chebyshevPoints(n);
  const xi = Float64Array.from({ length: n }, (_, i) => 0.5 * (1 + points[i]));
  const inner = anglesOf(size.boundaryQuadrature);
  const outer = anglesOf(size.priceQuadrature);
  const interpolation = new Float64Array(n * size.boundaryQuadrature * (n + 1));
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < size.boundaryQuadrature; k++) {
      const row = (i * size.boundaryQuadrature + k) * (n + 1);
      interpolation.set(chebyshevInterpolationWeights(n, 2 * xi[i] * inner.cosine[k] - 1), row);
    }
  }
  const priceInterpolation = new Float64Array(size.priceQuadrature * (n + 1));
  for (let k = 0; k < size.priceQuadrature; k++) {
    priceInterpolation.set(chebyshevInterpolationWeights(n, 2 * outer.cosine[k] - 1), k * (n + 1));
  }
  return {
    ...size,
    coarse: size.coarse && coarseOf(size.coarse, xi),
    xi,
    sine: inner.sine,
    cosine2: inner.cosine.map((c) => c * c),
    weight: inner.weight,
    interpolation,
    jacobian: new Float64Array(n * n),
    residual: new Float64Array(n),
    priceSine: outer.sine,
    priceCosine2: outer.cosine.map((c) => c * c),
    priceWeight: outer.weight,
    priceInterpolation,
  };
}

function coarseOf(size: NonNullable<SchemeSize['coarse']>, xi: Float64Array) {
  const { boundaryNodes } = size;
  const interpolation = new Float64Array(xi.length * (boundaryNodes + 1));
  xi.forEach((x, i) => {
    interpolation.set(chebyshevInterpolationWeights(boundaryNodes, 2 * x - 1), i * (boundaryNodes + 1));
  });
  return {
    scheme: americanScheme({ ...size, priceQuadrature: 1 }),
    boundary: putBoundary(boundaryNodes),
    interpolation,
  };
}

function anglesOf(count: number) {
  const { nodes, weights } = gaussLegendre(count);
  const quarter = Math.PI / 4;
  const angle = nodes.map((y) => quarter * (1 + y));
  const sine = angle.map(Math.sin);
  const cosine = angle.map(Math.cos);
  return { sine, cosine, weight: weights.map((w, k) => w * quarter * 2 * sine[k] * cosine[k]) };
}
