export type UnderlyingKind = 'index' | 'fund' | 'share' | 'future' | 'currency';

/** Which expiries are listed. */
export interface ExpiryCycle {
  /** Sessions ahead with an expiry each, today included */
  dailies: number;
  /** Fridays ahead */
  weeklies: number;
  /** Months ahead for standard monthly expiries */
  monthlies: number;
  /** Months ahead for quarterly expiries */
  quarterlies: number;
}

/** What is listed on the exchange, and the terms of its options. */
export interface Listing {
  symbol: string;
  name: string;
  kind: UnderlyingKind;
  sector: string;
  isFlagship: boolean;
  exercise: 'european' | 'american';
  model: 'spot' | 'futures';
  settlement: 'cash' | 'physical';
  multiplier: number;
  currency: string;
  zone: string;
  /** Currency whose rate is the yield of a currency pair */
  foreignCurrency?: string;
  /** Smallest price step of the underlying, and of its options below and above `tickChange` */
  underlyingTick: number;
  optionTick: number;
  wideTick: number;
  tickChange: number;
  cycle: ExpiryCycle;
}

/** A value that moves by script: [sessions before today, value], linear between, constant outside. */
export type Script = readonly (readonly [sessionsBefore: number, value: number])[];

/** How the simulator moves an underlying and shapes its smiles. Volatilities per year, decimals. */
export interface Character {
  /** Price on the last session */
  price: number;
  /** Continuous dividend yield of an index, cost to borrow of a share; no file tells either */
  yield: number;
  /** Volatility to which it reverts, through time */
  level: Script;
  /** Volatility that far expiries price */
  longLevel: number;
  /** Speed at which variance reverts, per year */
  reversion: number;
  /** Of the logarithm of variance, per year */
  volatilityOfVariance: number;
  /** Correlation of price and variance moves */
  leverage: number;
  /** Realized volatility as a share of implied */
  realizedShare: number;
  /** Correlations of its return with the market and with its sector */
  marketLoading: number;
  sectorLoading: number;
  /** Tilt of the smile, -1 to 1, through time, and its strength */
  tilt: Script;
  strength: number;
  /** Half spread in volatility, decimal, at the money */
  halfSpread: number;
  /** Contracts: scale of volume and open interest */
  liquidity: number;
  /** Strikes aimed at per expiry */
  strikes: number;
  /** Cash dividends: month and day of the ex-date, amount; every year */
  dividends: readonly { month: number; day: number; amount: number }[];
  /** A dividend that the market expects and nobody has announced: ex-date and amount */
  unannounced?: { year: number; month: number; day: number; amount: number };
  /** Single strikes and wings are bought and sold for days on end, beside what the smile says */
  hasOrderFlow?: boolean;
  /** Months of delivery, when it is a future, and how the curve bends with the season (log of price, amplitude) */
  deliveries?: readonly number[];
  curveSeason?: number;
  /** Amplitude of the season in variance, highest in July: 0.5 moves it between half and one and a half */
  varianceSeason?: number;
  /** Follows another underlying's path: price = factor x its price */
  follows?: { symbol: string; factor: number };
}

export type Listed = Listing & { character: Character };
