import { VELDMAR_ZONE } from '../zone/index.ts';
import type { Character, Listed, Listing } from './listing.ts';

export type { Listed } from './listing.ts';

type Given = Partial<Listing> & Partial<Character> & Pick<Character, 'price' | 'level'>;

const CHARACTER: Omit<Character, 'price' | 'level'> = {
  yield: 0,
  longLevel: 0.25,
  reversion: 4,
  volatilityOfVariance: 1.1,
  leverage: -0.4,
  realizedShare: 0.9,
  marketLoading: 0.55,
  sectorLoading: 0.35,
  tilt: [[0, -0.3]],
  strength: 0.75,
  halfSpread: 0.012,
  liquidity: 80,
  strikes: 40,
  dividends: [],
};

const TERMS = { isFlagship: false, currency: 'XTS', zone: VELDMAR_ZONE } as const;
const FULL_CYCLE = { dailies: 0, weeklies: 5, monthlies: 6, quarterlies: 15 };

function listed(terms: Listing, given: Given): Listed {
  const character: Character = { ...CHARACTER, ...pick(given, [...Object.keys(CHARACTER), ...CHARACTER_KEYS]) };
  return { ...terms, ...pick(given, Object.keys(terms).concat('foreignCurrency')), character };
}

const CHARACTER_KEYS = [
  'price',
  'level',
  'deliveries',
  'curveSeason',
  'varianceSeason',
  'follows',
  'unannounced',
  'hasOrderFlow',
];

function pick<T extends object>(from: object, keys: string[]): T {
  return Object.fromEntries(Object.entries(from).filter(([key]) => keys.includes(key))) as T;
}

/** Cash-settled European index. */
export function index(symbol: string, name: string, sector: string, given: Given): Listed {
  return listed(
    {
      ...TERMS,
      symbol,
      name,
      sector,
      kind: 'index',
      exercise: 'european',
      model: 'spot',
      settlement: 'cash',
      multiplier: 10,
      underlyingTick: 0.1,
      optionTick: 0.1,
      wideTick: 0.2,
      tickChange: 20,
      cycle: FULL_CYCLE,
    },
    given,
  );
}

/** Share with American options and cash dividends. */
export function americanShare(symbol: string, name: string, sector: string, given: Given): Listed {
  return listed(
    {
      ...TERMS,
      symbol,
      name,
      sector,
      kind: 'share',
      exercise: 'american',
      model: 'spot',
      settlement: 'physical',
      multiplier: 100,
      underlyingTick: 0.01,
      optionTick: 0.01,
      wideTick: 0.05,
      tickChange: 5,
      cycle: FULL_CYCLE,
    },
    given,
  );
}

/** Fund: American options, distributions in cash. */
export function fund(symbol: string, name: string, sector: string, given: Given): Listed {
  return { ...americanShare(symbol, name, sector, given), kind: 'fund' };
}

/** Future with several delivery months; options on it are American. */
export function future(symbol: string, name: string, sector: string, given: Given): Listed {
  return { ...americanShare(symbol, name, sector, given), kind: 'future', model: 'futures' };
}

/** Currency pair: European, the foreign currency's rate is the yield. */
export function currencyPair(symbol: string, name: string, given: Given): Listed {
  return listed(
    {
      ...TERMS,
      symbol,
      name,
      sector: 'Money',
      kind: 'currency',
      exercise: 'european',
      model: 'spot',
      settlement: 'cash',
      multiplier: 10_000,
      underlyingTick: 0.0001,
      optionTick: 0.0001,
      wideTick: 0.0002,
      tickChange: 0.1,
      cycle: FULL_CYCLE,
    },
    { marketLoading: 0.1, sectorLoading: 0.2, leverage: 0.1, ...given },
  );
}
