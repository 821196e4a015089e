import { FLAGSHIPS } from './flagships.ts';
import { americanShare, currencyPair, fund, future, index, type Listed } from './kinds.ts';

const SHORT_CYCLE = { dailies: 0, weeklies: 0, monthlies: 4, quarterlies: 12 };
const MODEST = { strikes: 24, cycle: SHORT_CYCLE };

type ShareRow = readonly [
  symbol: string,
  name: string,
  sector: string,
  price: number,
  level: number,
  longLevel: number,
  tilt: number,
  marketLoading: number,
  realizedShare: number,
  /** Paid twice a year; 0 for none */
  dividend: number,
];

/** What some shares have that no file tells; docs/veldmar.md tells their stories. */
const SECRETS: Record<string, Partial<Listed['character']>> = {
  GUSTA: { unannounced: { year: 2031, month: 5, day: 13, amount: 2.1 } },
  NIVVA: { yield: 0.28 },
  GRAVO: { hasOrderFlow: true },
  RUNEX: { hasOrderFlow: true },
};

const SHARES: readonly ShareRow[] = [
  ['HALDA', 'Halda Bakeries', 'Food and farming', 41.2, 0.21, 0.22, -0.3, 0.5, 0.92, 0.55],
  ['OSKRY', 'Oskry Dairies', 'Food and farming', 118.6, 0.19, 0.2, -0.28, 0.45, 0.85, 1.4],
  ['BRINU', 'Brinu Fisheries', 'Food and farming', 27.35, 0.33, 0.31, -0.15, 0.35, 1.05, 0],
  ['VELTA', 'Velta Diagnostics', 'Medicine', 84.1, 0.34, 0.34, -0.25, 0.5, 0.88, 0],
  ['CORIM', 'Corim Surgical', 'Medicine', 163.4, 0.26, 0.27, -0.34, 0.55, 0.83, 0.9],
  ['DRAVN', 'Dravn Lines', 'Freight and ports', 52.05, 0.41, 0.38, -0.3, 0.5, 0.97, 0.8],
  ['KAIPO', 'Kaipo Harbors', 'Freight and ports', 97.7, 0.24, 0.25, -0.32, 0.55, 0.8, 1.15],
  ['GRAVO', 'Gravo Copper', 'Mining', 66.3, 0.37, 0.35, -0.18, 0.5, 1.02, 0.7],
  ['TELLU', 'Tellu Quarries', 'Mining', 33.9, 0.29, 0.29, -0.22, 0.5, 0.9, 0.45],
  ['NIVVA', 'Nivva Nickel', 'Mining', 18.75, 0.48, 0.44, 0.05, 0.45, 1.1, 0],
  ['GUSTA', 'Gusta Wind', 'Power and water', 45.6, 0.31, 0.3, -0.2, 0.45, 0.9, 0],
  ['DAMMR', 'Dammr Hydro', 'Power and water', 88.2, 0.18, 0.19, -0.26, 0.45, 0.84, 1.3],
  ['RUNEX', 'Runex Chips', 'Technology', 205.8, 0.43, 0.41, -0.36, 0.65, 0.91, 0],
  ['OPALI', 'Opali Networks', 'Technology', 76.5, 0.35, 0.35, -0.33, 0.6, 0.87, 0],
  ['FJORA', 'Fjora Robotics', 'Technology', 129.1, 0.46, 0.43, -0.24, 0.6, 0.95, 0],
  ['MOTHR', 'Mothr Media', 'Technology', 21.4, 0.52, 0.48, -0.1, 0.4, 0.86, 0],
  ['KRONB', 'Kronbe Bank', 'Money', 58.9, 0.27, 0.28, -0.42, 0.7, 0.82, 1.1],
  ['STAVA', 'Stava Insurance', 'Money', 142.2, 0.22, 0.23, -0.4, 0.65, 0.8, 2.2],
  ['LEDGA', 'Ledga Payments', 'Money', 93.6, 0.38, 0.37, -0.3, 0.6, 0.9, 0],
];

const grain = { marketLoading: 0.05, leverage: 0.25, deliveries: [3, 5, 7, 9, 12] };

const REST: readonly Listed[] = [
  index('VFRT', 'Veldmar Freight 20', 'Freight and ports', {
    ...MODEST,
    price: 1243.4,
    yield: 0.034,
    level: [[0, 0.27]],
    longLevel: 0.252,
    tilt: [[0, -0.45]],
    strength: 0.95,
    marketLoading: 0.75,
    sectorLoading: 0.5,
  }),
  index('VFOOD', 'Veldmar Food 15', 'Food and farming', {
    ...MODEST,
    price: 2310.8,
    yield: 0.028,
    level: [[0, 0.13]],
    longLevel: 0.15,
    tilt: [[0, -0.5]],
    strength: 0.95,
    marketLoading: 0.7,
    sectorLoading: 0.5,
  }),
  fund('MEDF', 'Veldmar Medicine Fund', 'Medicine', {
    ...MODEST,
    price: 64.3,
    level: [[0, 0.24]],
    longLevel: 0.24,
    marketLoading: 0.6,
    sectorLoading: 0.6,
    halfSpread: 0.02,
    dividends: [3, 6, 9, 12].map((month) => ({ month, day: 24, amount: 0.22 })),
  }),
  fund('PWRF', 'Veldmar Power Fund', 'Power and water', {
    ...MODEST,
    price: 38.15,
    level: [[0, 0.17]],
    longLevel: 0.18,
    marketLoading: 0.6,
    sectorLoading: 0.6,
    halfSpread: 0.02,
    dividends: [3, 6, 9, 12].map((month) => ({ month, day: 24, amount: 0.28 })),
  }),
  ...SHARES.map(([symbol, name, sector, price, level, longLevel, tilt, marketLoading, realizedShare, dividend], i) =>
    americanShare(symbol, name, sector, {
      ...MODEST,
      price,
      level: [
        [504, longLevel],
        [250, longLevel * (0.85 + 0.03 * (i % 9))],
        [0, level],
      ],
      longLevel,
      tilt: [[0, tilt]],
      marketLoading,
      realizedShare,
      ...SECRETS[symbol],
      dividends:
        dividend > 0
          ? [
              { month: 4, day: 8 + (i % 9), amount: dividend },
              { month: 10, day: 8 + (i % 9), amount: dividend },
            ]
          : [],
    }),
  ),
  future('OATS', 'Oats', 'Food and farming', {
    ...MODEST,
    ...grain,
    price: 164.2,
    level: [[0, 0.26]],
    longLevel: 0.27,
    tilt: [[0, 0.25]],
    curveSeason: 0.03,
    varianceSeason: 0.45,
    multiplier: 50,
    underlyingTick: 0.05,
    optionTick: 0.05,
    wideTick: 0.1,
    tickChange: 10,
  }),
  future('COPPR', 'Copper', 'Mining', {
    ...MODEST,
    ...grain,
    price: 8450,
    level: [[0, 0.22]],
    longLevel: 0.23,
    tilt: [[0, -0.12]],
    multiplier: 5,
    underlyingTick: 1,
    optionTick: 1,
    wideTick: 2,
    tickChange: 200,
  }),
  future('PEAT', 'Peat', 'Power and water', {
    ...MODEST,
    ...grain,
    price: 71.4,
    level: [[0, 0.39]],
    longLevel: 0.35,
    tilt: [[0, 0.15]],
    curveSeason: -0.05,
    multiplier: 100,
  }),
  currencyPair('GULL', 'Gull in crowns', {
    ...MODEST,
    price: 11.862,
    foreignCurrency: 'GUL',
    level: [[0, 0.072]],
    longLevel: 0.078,
    tilt: [[0, -0.15]],
    halfSpread: 0.004,
  }),
  currencyPair('AUK', 'Auk in crowns', {
    ...MODEST,
    price: 2.914,
    foreignCurrency: 'AUK',
    level: [[0, 0.125]],
    longLevel: 0.12,
    tilt: [[0, 0.2]],
    halfSpread: 0.005,
  }),
];

/** Everything listed on the Veldmar Exchange, flagships first. */
export const UNIVERSE: readonly Listed[] = [...FLAGSHIPS, ...REST];

/** @throws Error for a symbol that is not listed */
export function listedIndex(symbol: string): number {
  const i = UNIVERSE.findIndex((u) => u.symbol === symbol);
  if (i < 0) throw new Error(`${symbol} is not listed on the Veldmar Exchange`);
  return i;
}

export const SECTORS: readonly string[] = [...new Set(UNIVERSE.map((u) => u.sector))];
