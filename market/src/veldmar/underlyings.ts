import { instantInZone, VELDMAR_ZONE } from '../zone/index.ts';

export type UnderlyingKind = 'index' | 'fund' | 'share' | 'future' | 'currency';

/** What is listed on the exchange, and the terms of its options. */
export interface ListedUnderlying {
  symbol: string;
  name: string;
  kind: UnderlyingKind;
  sector: string;
  exercise: 'european' | 'american';
  settlement: 'cash' | 'physical';
  multiplier: number;
  currency: string;
  zone: string;
  /** Smallest price step of the underlying, and of its options below and above `tickChange` */
  underlyingTick: number;
  optionTick: number;
  wideTick: number;
  tickChange: number;
}

/** How the simulator moves an underlying and shapes its smiles. Volatilities per year, decimals. */
export interface MarketCharacter {
  symbol: string;
  /** Price on the last session */
  price: number;
  /** Dividend yield or foreign rate, per year */
  yield: number;
  level: number;
  longLevel: number;
  meanReversion: number;
  volatilityOfVolatility: number;
  /** Correlation of price and volatility moves */
  leverage: number;
  /** Tilt of the smile, -1 to 1, and its strength */
  tilt: number;
  tiltStrength: number;
  /** Half spread of an at-the-money option as a share of its price */
  spread: number;
}

export interface ScheduledEvent {
  /** Undefined for an event of the whole market */
  symbol?: string;
  instant: number;
  kind: 'central-bank' | 'budget' | 'ruling';
  label: string;
  /** Standard deviation of the jump it brings, per underlying */
  moves: Record<string, number>;
}

const european = { exercise: 'european', settlement: 'cash', currency: 'XTS', zone: VELDMAR_ZONE } as const;

export const LISTED: readonly ListedUnderlying[] = [
  {
    ...european,
    symbol: 'VM50',
    name: 'Veldmar 50',
    kind: 'index',
    sector: 'Broad market',
    multiplier: 10,
    underlyingTick: 0.1,
    optionTick: 0.1,
    wideTick: 0.2,
    tickChange: 20,
  },
  {
    ...european,
    symbol: 'VFRT',
    name: 'Veldmar Freight 20',
    kind: 'index',
    sector: 'Freight',
    multiplier: 50,
    underlyingTick: 0.05,
    optionTick: 0.05,
    wideTick: 0.1,
    tickChange: 10,
  },
  {
    ...european,
    symbol: 'TERN',
    name: 'Tern in crowns',
    kind: 'currency',
    sector: 'Currency',
    multiplier: 10000,
    underlyingTick: 0.0001,
    optionTick: 0.0001,
    wideTick: 0.0002,
    tickChange: 0.1,
  },
];

export const CHARACTERS: readonly MarketCharacter[] = [
  {
    symbol: 'VM50',
    price: 4812.6,
    yield: 0.021,
    level: 0.148,
    longLevel: 0.182,
    meanReversion: 2.6,
    volatilityOfVolatility: 0.75,
    leverage: -0.72,
    tilt: -0.62,
    tiltStrength: 1.05,
    spread: 0.012,
  },
  {
    symbol: 'VFRT',
    price: 1243.35,
    yield: 0.034,
    level: 0.295,
    longLevel: 0.252,
    meanReversion: 4,
    volatilityOfVolatility: 1.1,
    leverage: -0.35,
    tilt: -0.25,
    tiltStrength: 0.8,
    spread: 0.02,
  },
  {
    symbol: 'TERN',
    price: 7.4252,
    yield: 0.012,
    level: 0.086,
    longLevel: 0.094,
    meanReversion: 3,
    volatilityOfVolatility: 0.6,
    leverage: 0.15,
    tilt: 0.12,
    tiltStrength: 0.95,
    spread: 0.015,
  },
];

/** Interest of the crown by days, continuously compounded. */
export const CROWN_CURVE = {
  days: [1, 7, 30, 90, 180, 365, 730],
  rates: [0.0302, 0.0303, 0.0306, 0.0314, 0.0322, 0.0331, 0.0338],
} as const;

const at = (month: number, day: number, hour: number, minute: number) =>
  instantInZone({ year: 2031, month, day, hour, minute, zone: VELDMAR_ZONE });

export const SCHEDULED_EVENTS: readonly ScheduledEvent[] = [
  {
    instant: at(3, 20, 13, 0),
    kind: 'central-bank',
    label: 'Central bank',
    moves: { VM50: 0.0125, TERN: 0.0075, VFRT: 0.006 },
  },
  { symbol: 'VFRT', instant: at(3, 27, 10, 0), kind: 'ruling', label: 'Canal ruling', moves: { VFRT: 0.048 } },
  { instant: at(4, 29, 15, 0), kind: 'budget', label: 'Budget', moves: { VM50: 0.01, TERN: 0.004 } },
];
