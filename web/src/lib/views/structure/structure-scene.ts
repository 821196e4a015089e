import { priceLaw } from '@umwelt/core/probability';
import { impliedDrift, spotForward } from '@umwelt/core/surface';
import {
  type MarketDay,
  recognizeStructure,
  type RecognizedStructure,
  skewLoad,
  structureGrid,
  type StructureGrid,
  type StructureMeasure,
  surfaceStructure,
  type SurfaceStructure,
  type SurfaceStructureResult,
  type UnderlyingLeg,
  type ValuedLeg,
  type MarketShift,
} from '@umwelt/core/structure';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { TradedLegText } from '../../api/traded.ts';
import { surfaceAgain } from '../../market/index.ts';
import { heldIncome, type ListedValue, marketExpiry, valuedLeg } from '../../theory/index.ts';
import { dateText, strikeText } from '../../ui/format.ts';
import type { PaidLeg, TakenAt } from './parameters.ts';
import { isSameOption } from './structure-edit.ts';

/** A leg as it is listed, quoted and valued. */
export interface SceneLeg {
  leg: TradedLegText;
  expiry: ExpiryPicture | undefined;
  bid: number | null;
  ask: number | null;
  /** That it is taken at: typed, or as the structure takes its legs; null where there is none */
  price: number | null;
  isTyped: boolean;
  value: ListedValue | undefined;
  /** Why its quote is doubtful, where it is */
  verdict: string | null;
}

/** A structure of listed options over a picture, and how it looks on any day up to its first expiry. */
export interface StructureScene {
  legs: SceneLeg[];
  /** Units of the underlying beside them */
  held: number;
  /** The underlying as a leg; undefined without it */
  heldLeg: UnderlyingLeg | undefined;
  /** What the underlying costs: of options on futures the future of the first expiry */
  underlyingPrice: number;
  name: RecognizedStructure;
  /** First expiry of the legs; undefined without options */
  front: ExpiryPicture | undefined;
  /** Undefined where a leg has no price or no value */
  valued: ValuedLeg[] | undefined;
  /** @param days from now, no more than to the first expiry */
  on: (days: number, shift?: MarketShift) => SurfaceStructure | undefined;
  /** Its measures on many days, ascending, at many prices: rows of prices, plain derivatives per unit of underlying */
  grid: (
    days: readonly number[],
    prices: Float64Array,
    o: { shift: MarketShift | undefined; measures: readonly StructureMeasure[] },
  ) => StructureGrid | undefined;
  /** What the market says of a day, no later than the first expiry; undefined without options */
  marketOn: (days: number) => MarketDay | undefined;
  /** One leg by itself at the first expiry */
  legAtFront: (at: number, prices: Float64Array, shift: MarketShift | undefined) => StructureGrid | undefined;
  /** Why it cannot be seen, in words; undefined where it can */
  trouble: string | undefined;
}

const DAYS_PER_YEAR = 365;
/** As far out as a level is taken to be quoted. */
const OF_LEVEL: readonly [number, number] = [-20, 20];

/** @param values of the legs by theory, in their order */
export function structureScene(
  picture: Picture,
  legs: readonly TradedLegText[],
  o: { held: number; paid: readonly PaidLeg[]; take: TakenAt; values: readonly (ListedValue | undefined)[] },
): StructureScene {
  const seen = legs.map((leg, i): SceneLeg => {
    const expiry = picture.expiries.find((e) => e.date === leg.expiry);
    const at = expiry?.strikes.indexOf(leg.strike) ?? -1;
    const quotes = expiry?.[leg.side];
    const [bid, ask] = [quotes?.bid[at] ?? null, quotes?.ask[at] ?? null];
    const typed = o.paid.find((p) => isSameOption(p, leg));
    const usual = {
      mid: bid !== null && ask !== null ? 0.5 * (bid + ask) : null,
      market: leg.ratio > 0 ? ask : bid,
      theory: o.values[i]?.price ?? null,
    }[o.take];
    return {
      ...{ leg, expiry: at < 0 ? undefined : expiry, bid, ask, isTyped: typed !== undefined },
      ...{ price: typed?.price ?? usual, value: o.values[i], verdict: quotes?.verdict[at] ?? null },
    };
  });
  const expiries = [...new Set(seen.flatMap(({ expiry }) => (expiry ? [expiry] : [])))].sort(
    (a, b) => a.years - b.years,
  );
  const front = expiries.at(0);
  const underlyingPrice = front?.underlyingPrice ?? picture.price;
  const income = heldIncome(picture);
  const held: UnderlyingLeg[] =
    o.held === 0 ? [] : [{ kind: 'underlying', quantity: o.held, price: underlyingPrice, income }];
  const options = seen.flatMap(({ leg, expiry, price, value }): ValuedLeg[] =>
    !expiry || price === null || !value
      ? []
      : [valuedLeg({ side: leg.side, strike: leg.strike, quantity: leg.ratio, price }, expiry, value)],
  );
  const isWhole = options.length === seen.length && options.length + held.length > 0;
  const valued = isWhole ? [...options, ...held] : undefined;
  const market = expiries.map(marketExpiry);
  const known = new Map<string, SurfaceStructureResult>();
  const surface = surfaceAgain(picture);
  const seenDays = new Map<number, MarketDay>();
  const dayOf = (days: number): MarketDay | undefined => {
    if (!front || days >= front.days) return undefined;
    const before = seenDays.get(days);
    const day = before ?? marketDay(front, days);
    seenDays.set(days, day);
    return day;
  };
  const marketDay = (first: ExpiryPicture, days: number): MarketDay => {
    const years = days / DAYS_PER_YEAR;
    const isFuture = first.model === 'futures';
    const forward = days === 0 || isFuture || !surface ? underlyingPrice : forwardOn(first, years, surface);
    const discountFactor = Math.exp(-first.impliedRate * years);
    if (days === 0 || !surface) return { years, forward, discountFactor, law: undefined };
    const scale = Math.sqrt(years / first.years);
    const range =
      first.smile && first.smile.model !== 'flat'
        ? ([first.smile.range[0] * scale, first.smile.range[1] * scale] as const)
        : OF_LEVEL;
    return { years, forward, discountFactor, law: priceLaw({ smile: surface.smileAt(years), forward, range }) };
  };
  /** Of a day before an expiry: between dividends a forward does not fall. */
  const forwardOn = (first: ExpiryPicture, years: number, between: NonNullable<typeof surface>): number => {
    const paid = picture.dividends.filter((d) => d.time < first.years);
    if (paid.length === 0) return between.forwardAt(years);
    const drift = impliedDrift(first.forward, underlyingPrice, paid, first.years);
    return spotForward(underlyingPrice, drift, paid, years);
  };
  const resultOn = (days: number, shift?: MarketShift): SurfaceStructureResult | undefined => {
    if (!valued) return undefined;
    const key = JSON.stringify([days, shift]);
    const before = known.get(key);
    if (before) return before;
    const result = surfaceStructure(valued, { expiries: market, day: dayOf(days), shift });
    known.set(key, result);
    return result;
  };
  const atFront = resultOn(Infinity);
  return {
    ...{ legs: seen, held: o.held, heldLeg: held.at(0), underlyingPrice, front, valued },
    name: recognizeStructure([
      ...legs.map((leg) => ({
        ...{ kind: 'option' as const, side: leg.side, strike: leg.strike, quantity: leg.ratio, price: 0 },
        years: Date.parse(leg.expiry) / 1e12,
      })),
      ...held,
    ]),
    on: (days, shift) => {
      const result = resultOn(days, shift);
      return result?.ok ? result.structure : undefined;
    },
    grid: (days, prices, asked) => {
      const result = valued && structureGrid(valued, { ...asked, expiries: market, days: days.map(dayOf), prices });
      return result?.ok ? result.grid : undefined;
    },
    marketOn: (days) => dayOf(days) ?? market.at(0),
    legAtFront: (at, prices, shift) => {
      const one = valued?.at(at);
      const day = front && market.find((e) => e.years === front.years);
      const result =
        one && structureGrid([one], { expiries: market, days: [day], prices, shift, measures: ['profit'] });
      return result?.ok ? result.grid : undefined;
    },
    trouble: troubleOf(seen, atFront),
  };
}

function troubleOf(seen: readonly SceneLeg[], atFront: SurfaceStructureResult | undefined): string | undefined {
  const unlisted = seen.find(({ expiry }) => !expiry);
  if (unlisted) return `${wordsOf(unlisted.leg)} is not listed at this instant.`;
  const unpriced = seen.find(({ price }) => price === null);
  if (unpriced) return `${wordsOf(unpriced.leg)} has no bid or no offer: type what it is taken at.`;
  if (atFront && !atFront.ok)
    return atFront.reason === 'no-law'
      ? 'The first expiry has no smile, so that legs which outlive it cannot be valued then.'
      : `No volatility after the first expiry gives ${wordsOf(seen[atFront.leg].leg).replace('The', 'the')} the value that it has today.`;
  return undefined;
}

const wordsOf = ({ expiry, strike, side }: TradedLegText) =>
  `The ${strikeText(strike)} ${side} of ${dateText(expiry, expiry)}`;

/** Sums over the legs in currency, and what tells the structure from its market. */
export interface SceneSums {
  cost: number | null;
  value: number | null;
  /** Between selling all at the bids and buying all at the offers */
  marketWidth: number | null;
  delta: number | null;
  gamma: number | null;
  theta: number | null;
  vega: number | null;
  vanna: number | null;
  volga: number | null;
  /** Decimal of volatility */
  skewLoad: number | null;
}

/** @param multiplier units of underlying in one contract */
export function sceneSums({ legs, held, underlyingPrice }: StructureScene, multiplier: number): SceneSums {
  const sum = (of: (leg: SceneLeg) => number | null | undefined, ofUnderlying = 0): number | null => {
    let total = held * ofUnderlying;
    for (const one of legs) {
      const part = of(one);
      if (part === null || part === undefined) return null;
      total += one.leg.ratio * part;
    }
    return total * multiplier;
  };
  const width = legs.reduce<number | null>(
    (total, { leg, bid, ask }) =>
      total === null || bid === null || ask === null ? null : total + Math.abs(leg.ratio) * (ask - bid),
    0,
  );
  const loaded = legs.flatMap(({ leg, value, expiry }) =>
    value && expiry && expiry.atm !== null
      ? [{ quantity: leg.ratio, vega: value.vega, volatility: value.volatility, atm: expiry.atm }]
      : [],
  );
  return {
    cost: sum((l) => l.price, underlyingPrice),
    value: sum((l) => l.value?.price, underlyingPrice),
    marketWidth: width === null ? null : width * multiplier,
    delta: sum((l) => l.value?.delta, 1),
    gamma: sum((l) => l.value?.gamma),
    theta: sum((l) => l.value?.theta),
    vega: sum((l) => l.value?.vega),
    vanna: sum((l) => l.value?.second?.vanna),
    volga: sum((l) => l.value?.second?.volga),
    skewLoad: loaded.length === legs.length ? finiteOrNull(skewLoad(loaded)) : null,
  };
}
