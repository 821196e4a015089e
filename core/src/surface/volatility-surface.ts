import type { Side } from '../pricing/index.ts';
import { levelMeasures, type SmileMeasures, smileMeasures, volatilityAtDelta } from './smile-measures.ts';
import { type Smile, smileVolatility } from './smile.ts';

/** The smile of an expiry on its forward. */
export interface SurfaceSmile {
  smile: Smile;
  forward: number;
  /** It is a level without shape: what its quotes do not tell is not known between expiries either */
  isLevel?: boolean;
}

/** What a scheduled event adds to total variance from its instant on. */
export interface EventJump {
  /** Years from now */
  time: number;
  /** >= 0 */
  variance: number;
}

/** Where on a smile: at a strike, at ln(strike / forward), at that many deviations from the forward, or at a delta. */
export type SurfacePlace =
  | { strike: number }
  | { logMoneyness: number }
  | { deviations: number }
  /** Undiscounted forward delta, absolute value, of an option of that side */
  | { side: Side; delta: number };

/** Figures of a smile at a fixed time to expiry. */
export interface ConstantMaturity extends SmileMeasures {
  forward: number;
}

/**
 * Volatility at any strike and date. Between expiries total variance at a log-moneyness is linear in time to which every
 * event adds its own at its instant; without events that is calendar time. Nothing that is free of arbitrage at the
 * expiries becomes otherwise between them: a mixture of two total variances, the weights the same at all strikes, rises
 * from the one to the other.
 * @see Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71,
 *   lemma 5.1 (prices between two slices).
 */
export class VolatilitySurface {
  readonly #expiries: readonly SurfaceSmile[];
  readonly #spot: number;
  readonly #events: readonly EventJump[];

  /**
   * @param expiries at least one, ascending in time to expiry
   * @param o.spot to which forwards shrink as expiry comes near; of options on futures the nearest forward serves
   * @throws RangeError without expiries, or when they do not ascend
   */
  constructor(expiries: readonly SurfaceSmile[], o: { spot: number; events?: readonly EventJump[] }) {
    if (expiries.length === 0) throw new RangeError('a surface needs at least one expiry');
    for (let i = 1; i < expiries.length; i++) {
      if (!(expiries[i].smile.timeToExpiry > expiries[i - 1].smile.timeToExpiry)) {
        throw new RangeError('expiries must ascend in time');
      }
    }
    this.#expiries = expiries;
    this.#spot = o.spot;
    this.#events = o.events ?? [];
  }

  /** What scheduled events add, as it was given. */
  get events(): readonly EventJump[] {
    return this.#events;
  }

  /**
   * The smile at a time to expiry; before the first expiry and after the last that of the nearest, its total variance in
   * proportion to the time.
   * @param time years, > 0
   * @throws RangeError
   */
  smileAt(time: number): Smile {
    const { near, far, share } = this.between(time);
    const { smile } = this.#expiries[far];
    if (share === 1 && smile.timeToExpiry === time) return smile;
    return near === undefined ? scaled(smile, share, time) : mixed(this.#expiries[near].smile, smile, share, time);
  }

  /**
   * Between which expiries a time lies, by their index, and the share of the total variance from the near one to the far one
   * that has come by then; of the far one's whole variance where none is before it.
   * @param time years, > 0
   * @throws RangeError
   */
  between(time: number): { near?: number; far: number; share: number } {
    if (!(time > 0 && time < Infinity)) throw new RangeError(`time to expiry must be positive, got ${time}`);
    const expiries = this.#expiries;
    const next = expiries.findIndex((e) => e.smile.timeToExpiry >= time);
    const last = expiries.length - 1;
    if (next === -1) return { far: last, share: time / expiries[last].smile.timeToExpiry };
    const far = expiries[next].smile;
    if (far.timeToExpiry === time) return { far: next, share: 1 };
    const near = next === 0 ? undefined : expiries[next - 1].smile;
    const between = far.totalVariance(0) - (near?.totalVariance(0) ?? 0);
    const share = this.#share(near?.timeToExpiry ?? 0, time, far.timeToExpiry, between);
    return { ...(near ? { near: next - 1 } : {}), far: next, share };
  }

  /** Share of the variance between two expiries that has come by a time between them. */
  #share(from: number, time: number, to: number, between: number): number {
    const linear = (time - from) / (to - from);
    let all = 0;
    let passed = 0;
    for (const { time: at, variance } of this.#events) {
      if (at <= from || at > to) continue;
      all += variance;
      if (at <= time) passed += variance;
    }
    if (!(between > 0) || all === 0) return linear;
    // Events cannot hold more than there is.
    const held = Math.min(all, between);
    return (passed * (held / all) + (between - held) * linear) / between;
  }

  /** The forward at a time to expiry, its logarithm linear between the expiries' and the spot now. */
  forwardAt(time: number): number {
    const expiries = this.#expiries;
    const next = expiries.findIndex((e) => e.smile.timeToExpiry >= time);
    const last = next === -1 ? expiries.length - 1 : next;
    const b = { time: expiries[last].smile.timeToExpiry, log: Math.log(expiries[last].forward) };
    const a =
      last === 0
        ? { time: 0, log: Math.log(this.#spot) }
        : { time: expiries[last - 1].smile.timeToExpiry, log: Math.log(expiries[last - 1].forward) };
    return Math.exp(a.log + ((b.log - a.log) * (time - a.time)) / (b.time - a.time));
  }

  /**
   * Volatility at a place of the smile at a time to expiry.
   * @returns NaN for a delta that the smile never reaches
   */
  volatilityAt(time: number, place: SurfacePlace): number {
    const smile = this.smileAt(time);
    if ('delta' in place) return volatilityAtDelta(smile, place.side, place.delta);
    if ('deviations' in place) return smileVolatility(smile, place.deviations * Math.sqrt(smile.totalVariance(0)));
    if ('logMoneyness' in place) return smileVolatility(smile, place.logMoneyness);
    return smileVolatility(smile, Math.log(place.strike / this.forwardAt(time)));
  }

  /** Level, tilt and bend at a fixed time to expiry; the level alone where an expiry beside it has no more. */
  constantMaturity(time: number): ConstantMaturity {
    const smile = this.smileAt(time);
    const measures = this.#isLevelAt(time) ? levelMeasures(smileVolatility(smile, 0)) : smileMeasures(smile);
    return { ...measures, forward: this.forwardAt(time) };
  }

  #isLevelAt(time: number): boolean {
    const expiries = this.#expiries;
    const next = expiries.findIndex((e) => e.smile.timeToExpiry >= time);
    const far = expiries[next === -1 ? expiries.length - 1 : next];
    const near = next > 0 && far.smile.timeToExpiry !== time ? expiries[next - 1] : undefined;
    return far.isLevel === true || near?.isLevel === true;
  }
}

function scaled(smile: Smile, share: number, timeToExpiry: number): Smile {
  return {
    timeToExpiry,
    totalVariance: (k) => share * smile.totalVariance(k),
    slope: (k) => share * smile.slope(k),
    curvature: (k) => share * smile.curvature(k),
  };
}

function mixed(near: Smile, far: Smile, share: number, timeToExpiry: number): Smile {
  const mix = (a: number, b: number) => (1 - share) * a + share * b;
  return {
    timeToExpiry,
    totalVariance: (k) => mix(near.totalVariance(k), far.totalVariance(k)),
    slope: (k) => mix(near.slope(k), far.slope(k)),
    curvature: (k) => mix(near.curvature(k), far.curvature(k)),
  };
}
