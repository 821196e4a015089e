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
import { hasEnded, surfaceAgain } from '../../market/index.ts';
import {
  heldIncome,
  legAssignment,
  type LegAssignment,
  legExpiry,
  type ListedValue,
  marketExpiry,
  settledLeg,
  type SettledLeg,
  valuedLeg,
} from '../../theory/index.ts';
import { dateText, strikeText } from '../../ui/format.ts';
import type { PaidLeg, TakenAt } from './parameters.ts';
import { isSameOption } from './structure-edit.ts';

/** A leg as it is quoted and valued. */
export interface SceneLeg {
  leg: TradedLegText;
  /** Listed, or as the surface sees it; undefined of one that has ended, and where nothing tells of it */
  expiry: ExpiryPicture | undefined;
  /** What its value rests on: a quote beside theory, the smile alone, or what it was settled at; undefined while it has none */
  valuedBy: 'quote' | 'smile' | 'settlement' | undefined;
  /** What it has become, where it has ended */
  settled: (SettledLeg & { at: number }) | undefined;
  hasEnded: boolean;
  /** When it may be assigned early, where it is a call that is owed */
  assignment: LegAssignment | undefined;
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
  o: {
    held: number;
    paid: readonly PaidLeg[];
    take: TakenAt;
    values: readonly (ListedValue | undefined)[];
    /** Of expiries that have ended, by date */
    settlements?: ReadonlyMap<string, number | null>;
  },
): StructureScene {
  const seen = legs.map((leg, i): SceneLeg => {
    if (hasEnded(picture, leg.expiry)) return endedLeg(picture, leg, o);
    const expiry = legExpiry(picture, leg.expiry);
    const at = expiry?.strikes.indexOf(leg.strike) ?? -1;
    const quotes = at < 0 ? undefined : expiry?.[leg.side];
    const [bid, ask] = [quotes?.bid[at] ?? null, quotes?.ask[at] ?? null];
    const typed = o.paid.find((p) => isSameOption(p, leg));
    const usual = {
      mid: bid !== null && ask !== null ? 0.5 * (bid + ask) : null,
      market: leg.ratio > 0 ? ask : bid,
      theory: o.values[i]?.price ?? null,
    }[o.take];
    // What is not listed is taken at theory.
    const price = typed?.price ?? (at < 0 ? (o.values[i]?.price ?? null) : usual);
    const value = o.values[i];
    const assignment = expiry && value && legAssignment(picture, expiry, { ...leg, quantity: leg.ratio }, value);
    return {
      assignment,
      ...{ leg, expiry, bid, ask, price, isTyped: typed !== undefined, hasEnded: false, settled: undefined },
      ...{ value: o.values[i], verdict: quotes?.verdict[at] ?? null },
      valuedBy: !o.values[i] ? undefined : at < 0 ? 'smile' : 'quote',
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
  const options = seen.flatMap(({ leg, expiry, price, value, settled }): ValuedLeg[] =>
    settled
      ? [settled.leg.kind === 'underlying' ? { ...settled.leg, income } : settled.leg]
      : !expiry || price === null || !value
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

/** A leg that has ended: what it was settled at it is taken at, too, unless something else is typed. */
function endedLeg(
  picture: Picture,
  leg: TradedLegText,
  o: { paid: readonly PaidLeg[]; settlements?: ReadonlyMap<string, number | null> },
): SceneLeg {
  const at = o.settlements?.get(leg.expiry) ?? null;
  const typed = o.paid.find((p) => isSameOption(p, leg));
  const { side, strike, ratio: quantity } = leg;
  const became = (price: number) => settledLeg(picture, { side, strike, quantity, price }, at ?? NaN);
  const price = typed?.price ?? (at === null ? null : became(0).worth);
  return {
    ...{ leg, expiry: undefined, hasEnded: true, bid: null, ask: null, price, isTyped: typed !== undefined },
    assignment: undefined,
    ...{ value: undefined, verdict: null, valuedBy: at === null ? undefined : 'settlement' },
    settled: at === null || price === null ? undefined : { ...became(price), at },
  };
}

function troubleOf(seen: readonly SceneLeg[], atFront: SurfaceStructureResult | undefined): string | undefined {
  const unsettled = seen.find((l) => l.hasEnded && !l.settled);
  if (unsettled) {
    const { leg } = unsettled;
    return `${wordsOf(leg)} has ended, and no close of ${dateText(leg.expiry, leg.expiry)} is stored: import that bar to see what it paid.`;
  }
  const unlisted = seen.find((l) => !l.hasEnded && !l.expiry);
  if (unlisted) return `${wordsOf(unlisted.leg)} is not listed at this instant, and no smile tells what it is worth.`;
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

/** Worth of one now, per unit of underlying: by theory, or what it came to; undefined while it has none. */
export const legWorth = ({ settled, value }: SceneLeg): number | undefined => settled?.worth ?? value?.price;

/** A Greek of one in the scales of the screen; what has ended has no other than the delta of what it became. */
export const legGreek = (
  { settled, value }: SceneLeg,
  name: 'delta' | 'gamma' | 'theta' | 'vega',
): number | undefined => (settled ? (name === 'delta' ? settled.delta : 0) : value?.[name]);

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
  const live = legs.filter((l) => !l.settled);
  const width = live.reduce<number | null>(
    (total, { leg, bid, ask }) =>
      total === null || bid === null || ask === null ? null : total + Math.abs(leg.ratio) * (ask - bid),
    0,
  );
  const loaded = live.flatMap(({ leg, value, expiry }) =>
    value && expiry && expiry.atm !== null
      ? [{ quantity: leg.ratio, vega: value.vega, volatility: value.volatility, atm: expiry.atm }]
      : [],
  );
  return {
    cost: sum((l) => l.price, underlyingPrice),
    value: sum(legWorth, underlyingPrice),
    marketWidth: width === null ? null : width * multiplier,
    delta: sum((l) => legGreek(l, 'delta'), 1),
    gamma: sum((l) => legGreek(l, 'gamma')),
    theta: sum((l) => legGreek(l, 'theta')),
    vega: sum((l) => legGreek(l, 'vega')),
    vanna: sum((l) => (l.settled ? 0 : l.value?.second?.vanna)),
    volga: sum((l) => (l.settled ? 0 : l.value?.second?.volga)),
    skewLoad: loaded.length === live.length && live.length > 0 ? finiteOrNull(skewLoad(loaded)) : null,
  };
}
