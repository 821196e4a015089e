import type { AmericanScheme } from './american-scheme.ts';
import { putBoundary } from './american-scheme.ts';
import { nearbyPut, type SolvedPut, solvePut, type UnitPutMarket } from './american-spectral.ts';

/** Nodes of volatility: this many at least, and more the wider the volatilities lie apart. */
const LEAST_NODES = 4;
const NODES_PER_FACTOR = 3;
const MOST_NODES = 16;
/** The nodes reach a little past the volatilities asked for, so that differences by volatility stay inside. */
const MARGIN = 0.02;

/** The part of a unit put's market that all volatilities share. */
export type UnitPutTerms = Omit<UnitPutMarket, 'volatility'>;

/**
 * Exercise boundaries of puts with strike 1 that differ in volatility alone: solved at Chebyshev nodes in the logarithm of
 * volatility and interpolated between them, since the boundary is a smooth function of it.
 * @see Berrut, J.-P. & Trefethen, L. N. (2004). Barycentric Lagrange interpolation. SIAM Review 46(3), 501-517.
 */
export class BoundariesByVolatility {
  readonly #scheme: AmericanScheme;
  readonly #nodes: Float64Array;
  readonly #weights: Float64Array;
  readonly #base: readonly SolvedPut[];

  private constructor(scheme: AmericanScheme, nodes: Float64Array, weights: Float64Array, base: readonly SolvedPut[]) {
    this.#scheme = scheme;
    this.#nodes = nodes;
    this.#weights = weights;
    this.#base = base;
  }

  /**
   * @param range lowest and highest volatility, > 0
   * @returns undefined when a boundary at one of the nodes cannot be solved
   */
  static solve(
    scheme: AmericanScheme,
    terms: UnitPutTerms,
    [low, high]: readonly [number, number],
  ): BoundariesByVolatility | undefined {
    const factor = Math.log(high / low);
    const count = Math.min(MOST_NODES, LEAST_NODES + Math.ceil(NODES_PER_FACTOR * factor));
    const middle = 0.5 * Math.log(low * high);
    const half = 0.5 * factor + MARGIN;
    const angle = (i: number) => ((2 * i + 1) * Math.PI) / (2 * count);
    const nodes = Float64Array.from({ length: count }, (_, i) => middle + half * Math.cos(angle(i)));
    const weights = Float64Array.from({ length: count }, (_, i) => (i % 2 === 0 ? 1 : -1) * Math.sin(angle(i)));
    const base: SolvedPut[] = [];
    for (const node of nodes) {
      const rough = solvePut(scheme, { ...terms, volatility: Math.exp(node) });
      // Two more steps, as those of markets nearby, whose differences must not hold what the last step left.
      const settled = rough && nearbyPut(rough, {});
      if (!settled) return undefined;
      base.push(settled);
    }
    return new BoundariesByVolatility(scheme, nodes, weights, base);
  }

  /** Boundaries of all these volatilities in a market nearby; undefined when one of its boundaries cannot be solved. */
  nearby(change: Partial<UnitPutTerms>): BoundariesByVolatility | undefined {
    const base: SolvedPut[] = [];
    for (const put of this.#base) {
      const moved = nearbyPut(put, change) ?? solvePut(this.#scheme, { ...put.market, ...change });
      if (!moved) return undefined;
      base.push(moved);
    }
    return new BoundariesByVolatility(this.#scheme, this.#nodes, this.#weights, base);
  }

  /** A put whose boundary {@link at} can write, to be used again. */
  room(): SolvedPut {
    return {
      scheme: this.#scheme,
      market: { ...this.#base[0].market },
      boundary: putBoundary(this.#scheme.boundaryNodes),
    };
  }

  /** Writes market and boundary at a volatility within the range to `out`, and returns it. */
  at(out: SolvedPut, volatility: number): SolvedPut {
    const x = Math.log(volatility);
    const { transform } = out.boundary;
    transform.fill(0);
    let sum = 0;
    for (let i = 0; i < this.#nodes.length; i++) {
      const distance = x - this.#nodes[i];
      // At a node its own weight outgrows the others, as it should.
      const weight = this.#weights[i] / (distance === 0 ? 1e-300 : distance);
      sum += weight;
      const column = this.#base[i].boundary.transform;
      for (let j = 0; j < transform.length; j++) transform[j] += weight * column[j];
    }
    for (let j = 0; j < transform.length; j++) transform[j] /= sum;
    out.boundary.logStart = this.#base[0].boundary.logStart;
    Object.assign(out.market, this.#base[0].market, { volatility });
    return out;
  }
}
