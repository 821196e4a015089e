import { isFault, type Surface, type SurfaceInput } from '@umwelt/core/surface';
import { exactChain } from './exact-chain.ts';
import { laboratoryQuotes } from './laboratory-quotes.ts';
import type { LaboratoryMarket } from './laboratory-market.ts';
import { type ExpiryTruth, expiryTruth, probabilityWithin, trueStrip } from './laboratory-truth.ts';
import { surfaceInput } from './surface-input.ts';

/** How far estimates lie from the truth, one value an expiry and seed where nothing else is said; all >= 0. */
export interface MarketErrors {
  /** Percent of the forward */
  forward: number[];
  /** Percent of the discount factor */
  factor: number[];
  /** Volatility points */
  atm: number[];
  riskReversal25: number[];
  butterfly25: number[];
  /** Volatility points, one a seed */
  strip: number[];
  /** Points of the chance to finish within one deviation */
  within: number[];
  /** Percent of the fitted quotes that the smile misses */
  outside: number[];
  /** Deviation of the forward that is shown, percent */
  errorShown: number[];
  quality: number[];
  /** Milliseconds, one a seed */
  time: number[];
  /** Share of the 90 % intervals of the forward that hold the true one */
  covered: number;
  /** Clean quotes called faulty, and all clean ones */
  faulty: { called: number; clean: number };
  /** Spoilt quotes that were found, and all of them */
  faults: { found: number; planted: number };
  /** Expiries without a smile */
  missing: number;
}

/** Deviations on either side of a 90 % interval of a normal law. */
const NINETY = 1.645;
/** Nearer expiries are left out, in days, where a market has others. */
const LEAST_DAYS = 10;

/**
 * Holds a derivation against the truth of a market over seeds.
 * @param derive what turns quotes into a surface
 * @param now clock in milliseconds, for the time each derivation takes; none is taken without
 */
export function judgeMarket(
  market: LaboratoryMarket,
  seeds: readonly number[],
  derive: (input: SurfaceInput) => Surface,
  now: () => number = () => 0,
): MarketErrors {
  const exact = exactChain(market);
  const truth = exact.map(expiryTruth);
  const strip = trueStrip(exact, market.rate);
  const isFar = truth.some((t) => t.days > LEAST_DAYS);
  const errors: MarketErrors = {
    forward: [],
    factor: [],
    atm: [],
    riskReversal25: [],
    butterfly25: [],
    strip: [],
    within: [],
    outside: [],
    errorShown: [],
    quality: [],
    time: [],
    covered: 0,
    faulty: { called: 0, clean: 0 },
    faults: { found: 0, planted: 0 },
    missing: 0,
  };
  for (const seed of seeds) {
    const { slices, faults } = laboratoryQuotes(market, exact, seed);
    const input = surfaceInput(market, slices);
    const start = now();
    const surface = derive(input);
    errors.time.push(now() - start);
    if (strip !== null && surface.index30 !== null) errors.strip.push(100 * Math.abs(surface.index30 - strip));
    const isPlanted = (expiry: number, side: string, index: number) =>
      faults.some((f) => f.expiry === expiry && f.side === side && f.index === index);
    surface.expiries.forEach((e, i) => {
      for (const side of ['call', 'put'] as const) {
        e.verdicts[side].forEach((verdict, index) => {
          const isCalled = verdict !== undefined && isFault(verdict);
          if (isPlanted(i, side, index)) {
            errors.faults.planted++;
            if (isCalled || verdict === 'no-bid') errors.faults.found++;
          } else {
            errors.faulty.clean++;
            if (isCalled) errors.faulty.called++;
          }
        });
      }
      if (!isFar || truth[i].days > LEAST_DAYS) judgeExpiry(errors, e, truth[i]);
    });
  }
  errors.covered /= errors.forward.length;
  return errors;
}

function judgeExpiry(errors: MarketErrors, e: Surface['expiries'][number], truth: ExpiryTruth): void {
  const { forward, discountFactor, forwardError } = e.forward;
  errors.forward.push(100 * Math.abs(forward / truth.forward - 1));
  errors.factor.push(100 * Math.abs(discountFactor / truth.discountFactor - 1));
  errors.errorShown.push((100 * forwardError) / truth.forward);
  if (Math.abs(forward - truth.forward) <= NINETY * forwardError) errors.covered++;
  if (!e.smile || !e.measures) {
    errors.missing++;
    return;
  }
  const points = (estimate: number, value: number) => 100 * Math.abs(estimate - value);
  errors.atm.push(points(e.measures.atm, truth.atm));
  const { riskReversal25, butterfly25 } = e.measures;
  // Of a level without shape they are not known, and where the strikes do not reach the deltas neither is the truth.
  if (Number.isFinite(riskReversal25) && Number.isFinite(truth.riskReversal25)) {
    errors.riskReversal25.push(points(riskReversal25, truth.riskReversal25));
    errors.butterfly25.push(points(butterfly25, truth.butterfly25));
  }
  errors.within.push(points(probabilityWithin(e.smile.smile, truth.atm), truth.within));
  errors.outside.push(100 * (1 - e.smile.insideMarket));
  errors.quality.push(e.smile.quality);
}
