import type { LaboratoryDividend, LaboratoryMarket } from './laboratory-market.ts';
import { displaced, heston, mertonJumps, mixture, sabr, shaped } from './laws/index.ts';

/** A market with the group its limits go by. */
export interface LaboratoryCase extends LaboratoryMarket {
  /**
   * `european` and `known`: everything is told; `inferred`: something is not; `special`: wide quotes, few strikes, a missing
   * wing, planted faults, values by the law itself, or days alone
   */
  group: 'european' | 'known' | 'inferred' | 'special';
}

const DAYS = [7, 14, 21, 28, 35, 49, 63, 91, 126, 182, 273, 371];
const BOTH_WINGS = { most: 44, below: 2.6, above: 2.4 };

const SKEWED = shaped({ level: 0.25, tilt: 0.02, bend: 0.006 });
const STEEP = shaped({ level: 0.25, tilt: 0.025, bend: 0.006 });
const SABR = sabr({ alpha: 0.28, beta: 0.7, rho: -0.35, nu: 0.6 });
const HESTON = heston({ now: 0.07, mean: 0.09, reversion: 2, noise: 0.6, correlation: -0.6 });
const BATES = heston(
  { now: 0.05, mean: 0.07, reversion: 2, noise: 0.5, correlation: -0.5 },
  { perYear: 0.8, meanLog: -0.07, deviationLog: 0.08 },
);
const JUMPS = mertonJumps({ volatility: 0.22, perYear: 1, meanLog: -0.06, deviationLog: 0.09 });
const TWO_WAYS = mixture([
  { weight: 0.6, forward: 1.04, volatility: 0.22 },
  { weight: 0.4, forward: 0.94, volatility: 0.34 },
]);

const PLAIN: LaboratoryMarket = {
  name: '',
  law: SKEWED,
  spot: 80,
  exercise: 'american',
  rate: 0.03,
  curve: 0.03,
  dividendYield: 0,
  dividends: [],
  days: DAYS,
  strikes: BOTH_WINGS,
};

function paid(isKnown: boolean, ...list: [day: number, amount: number][]): LaboratoryDividend[] {
  return list.map(([day, amount]) => ({ time: day / 365, amount, isKnown }));
}

function of(group: LaboratoryCase['group'], name: string, o: Partial<LaboratoryMarket> = {}): LaboratoryCase {
  return { ...PLAIN, ...o, name, group };
}

const QUARTERLY = [
  [40, 0.4],
  [131, 0.4],
  [222, 0.4],
  [313, 0.4],
] as const satisfies [number, number][];
const HALF_YEARLY = [
  [60, 1.2],
  [242, 1.2],
] as const satisfies [number, number][];

/** Every market of the laboratory. */
export const LABORATORY_MARKETS: readonly LaboratoryCase[] = [
  of('european', 'lognormal', { exercise: 'european', law: shaped({ level: 0.2 }) }),
  of('european', 'displaced', { exercise: 'european', law: displaced({ shift: 0.8, volatility: 0.14 }) }),
  of('european', 'SABR', { exercise: 'european', law: SABR }),
  of('european', 'Merton jumps', { exercise: 'european', law: JUMPS }),
  of('european', 'Heston', { exercise: 'european', law: HESTON }),
  of('european', 'Bates', { exercise: 'european', law: BATES }),
  of('european', 'two lognormals', { exercise: 'european', law: TWO_WAYS, days: [7, 14, 28, 63] }),
  of('european', 'currency smile', {
    exercise: 'european',
    law: shaped({ level: 0.09, tilt: 0.001, bend: 0.003 }),
    rate: 0.02,
    curve: 0.02,
    dividendYield: 0.04,
    isYieldKnown: true,
  }),
  of('european', 'currency, no curve', {
    exercise: 'european',
    law: shaped({ level: 0.09, tilt: -0.001, bend: 0.003 }),
    rate: 0.055,
    curve: null,
    dividendYield: 0.01,
  }),

  of('known', 'plain share'),
  of('known', 'known quarterly dividends', { dividends: paid(true, ...QUARTERLY), law: HESTON }),
  of('known', 'known half-yearly dividends', { dividends: paid(true, ...HALF_YEARLY), law: STEEP }),
  of('known', 'future, SABR', { model: 'futures', law: SABR }),
  of('known', 'rate -1 %', { rate: -0.01, curve: -0.01, law: SABR }),

  of('inferred', 'one unknown dividend of 0.3 %', { dividends: paid(false, [75, 0.24]), law: SABR }),
  of('inferred', 'one unknown dividend of 0.5 %', { dividends: paid(false, [60, 0.4]) }),
  of('inferred', 'one unknown dividend of 5 %', { dividends: paid(false, [150, 4]), law: JUMPS }),
  of('inferred', 'two unknown dividends of 1.5 %', { dividends: paid(false, ...HALF_YEARLY), law: STEEP }),
  of('inferred', 'four unknown dividends of 0.5 %', { dividends: paid(false, ...QUARTERLY), law: HESTON }),
  of('inferred', 'one known, one unknown', {
    dividends: [...paid(true, [60, 1.2]), ...paid(false, [242, 1.2])],
    law: BATES,
  }),
  of('inferred', 'financing 0.5 % over the curve', { rate: 0.035, law: HESTON }),
  of('inferred', 'financing 1.5 % over the curve', { rate: 0.045 }),
  of('inferred', 'financing 3 % over the curve', { rate: 0.06, law: BATES }),
  of('inferred', 'no curve, yield 2 %', { rate: 0.04, curve: null, dividendYield: 0.02, law: SABR }),
  of('inferred', 'no curve, dividends unknown', {
    rate: 0.045,
    curve: null,
    dividends: paid(false, ...HALF_YEARLY),
    law: HESTON,
  }),
  of('inferred', 'borrow 25 %, jumps', { dividendYield: 0.25, law: JUMPS }),
  of('inferred', 'borrow 30 %', { dividendYield: 0.3 }),
  of('inferred', 'borrow 40 %, SABR', { dividendYield: 0.4, law: SABR }),
  of('inferred', 'borrow 30 %, known dividends', { dividendYield: 0.3, dividends: paid(true, ...HALF_YEARLY) }),
  of('inferred', 'financing 1.5 % over, dividends unknown', {
    rate: 0.045,
    dividends: paid(false, ...HALF_YEARLY),
    law: STEEP,
  }),
  of('inferred', 'rate -1 %, dividend unknown', { rate: -0.01, curve: -0.01, dividends: paid(false, [60, 1.2]) }),

  of('special', 'wide quotes, two unknown dividends', { width: 4, dividends: paid(false, ...HALF_YEARLY), law: STEEP }),
  of('special', 'wide quotes, financing 1.5 % over', { width: 4, rate: 0.045 }),
  of('special', 'wide quotes, borrow 30 %', { width: 4, dividendYield: 0.3 }),
  of('special', 'wide quotes, no curve', { width: 4, rate: 0.04, curve: null, dividendYield: 0.02 }),
  of('special', 'future by the law itself', {
    model: 'futures',
    law: displaced({ shift: 0.8, volatility: 0.14 }),
    rate: 0.05,
    curve: 0.05,
    isByLaw: true,
  }),
  of('special', 'share by the law itself', {
    law: displaced({ shift: 0.8, volatility: 0.14 }),
    dividendYield: 0.03,
    isByLaw: true,
  }),
  of('special', 'ten strikes', { strikes: { ...BOTH_WINGS, most: 10 }, dividends: paid(false, [60, 0.8]) }),
  of('special', 'lower wing alone', {
    strikes: { most: 44, below: 2.6, above: 0.3 },
    dividends: paid(false, [60, 0.8]),
  }),
  of('special', 'ticks of 5 cents', { tick: 0.05, dividends: paid(false, [60, 0.8]), law: SABR }),
  of('special', 'planted faults', { faults: 24, dividends: paid(false, ...HALF_YEARLY), law: STEEP }),
  of('special', 'same day', {
    law: mertonJumps({ volatility: 0.22, perYear: 12, meanLog: -0.02, deviationLog: 0.02 }),
    days: [0.2, 1, 2, 3],
    spot: 400,
    strikes: { most: 60, below: 4, above: 3 },
  }),
];
