import { z } from 'zod';
import { type Fill, order, type Order, type OrderLeg, orderRequest, type OrderRequest } from './order.ts';

/** Best prices and contracts at them; NaN where there is none. */
export interface LegQuote {
  bid: number;
  ask: number;
  bidSize: number;
  askSize: number;
}

/** Quotes of one moment. */
export interface BrokerQuotes {
  /** Milliseconds since 1970 UTC */
  instant: number;
  isOpen: boolean;
  /** Undefined for what is not listed */
  quoteOf(symbol: string, leg: OrderLeg): LegQuote | undefined;
  multiplierOf(symbol: string, leg: OrderLeg): number;
}

export interface Position {
  symbol: string;
  leg: Omit<OrderLeg, 'ratio'>;
  /** Contracts, negative when short */
  quantity: number;
}

/** What a broker does, whoever it is. */
export interface Broker {
  place(request: OrderRequest, quotes: BrokerQuotes): Order;
  cancel(id: number): boolean;
  /** Tries working orders against newer quotes; the orders that changed. */
  meet(quotes: BrokerQuotes): Order[];
  orders(): readonly Order[];
  positions(): Position[];
  cash(): number;
}

export const paperBrokerState = z.object({
  nextId: z.number().int().positive(),
  cash: z.number(),
  orders: z.array(order),
});
export type PaperBrokerState = z.infer<typeof paperBrokerState>;

/** Currency a contract and leg costs to trade. */
const FEE = 0.6;

/**
 * Stand-in for a broker: fills orders at the far side of the market, no more than is shown there, and never beyond their
 * limit. Legs of an order are filled together or not at all. Its state is plain JSON, so it can be kept and taken up again.
 */
export class PaperBroker implements Broker {
  readonly #state: PaperBrokerState;

  constructor(state: PaperBrokerState = { nextId: 1, cash: 0, orders: [] }) {
    this.#state = structuredClone(state);
  }

  state(): PaperBrokerState {
    return structuredClone(this.#state);
  }

  /** @throws ZodError for an order that makes no sense */
  place(request: OrderRequest, quotes: BrokerQuotes): Order {
    const checked = orderRequest.parse(request);
    const placed: Order = {
      ...checked,
      id: this.#state.nextId++,
      placedAt: quotes.instant,
      state: 'working',
      reason: refusal(checked, quotes),
      filled: 0,
      fills: [],
    };
    if (placed.reason !== null) placed.state = 'refused';
    this.#state.orders.push(placed);
    if (placed.state === 'working') this.#meet(placed, quotes);
    return structuredClone(placed);
  }

  /** False when there is nothing left to cancel. */
  cancel(id: number): boolean {
    const found = this.#state.orders.find((o) => o.id === id);
    if (found?.state !== 'working') return false;
    found.state = 'cancelled';
    return true;
  }

  meet(quotes: BrokerQuotes): Order[] {
    const working = this.#state.orders.filter((o) => o.state === 'working');
    return working.filter((o) => this.#meet(o, quotes)).map((o) => structuredClone(o));
  }

  orders(): readonly Order[] {
    return structuredClone(this.#state.orders);
  }

  positions(): Position[] {
    const held = new Map<string, Position>();
    for (const { symbol, legs, filled } of this.#state.orders) {
      if (filled === 0) continue;
      for (const { ratio, ...leg } of legs) {
        const key = JSON.stringify([symbol, leg.expiry, leg.side, leg.strike]);
        const before = held.get(key)?.quantity ?? 0;
        held.set(key, { symbol, leg, quantity: before + ratio * filled });
      }
    }
    return [...held.values()].filter((p) => p.quantity !== 0);
  }

  cash(): number {
    return this.#state.cash;
  }

  /** Fills what can be filled; whether the order changed. */
  #meet(o: Order, quotes: BrokerQuotes): boolean {
    const reason = refusal(o, quotes);
    if (reason === 'expired') {
      o.state = 'cancelled';
      o.reason = reason;
      return true;
    }
    if (!quotes.isOpen) return false;
    const far = farSide(o, quotes);
    if (far.units === 0 || (o.limit !== null && far.price > o.limit + 1e-9)) return false;
    const quantity = Math.min(o.quantity - o.filled, far.units);
    const contracts = o.legs.reduce((sum, l) => sum + Math.abs(l.ratio), 0) * quantity;
    const fill: Fill = {
      instant: quotes.instant,
      quantity,
      price: far.price,
      legPrices: far.legPrices,
      fee: FEE * contracts,
    };
    o.fills.push(fill);
    o.filled += quantity;
    if (o.filled === o.quantity) o.state = 'filled';
    const worth = o.legs.reduce(
      (sum, l, i) => sum + l.ratio * far.legPrices[i] * quotes.multiplierOf(o.symbol, l) * quantity,
      0,
    );
    this.#state.cash -= worth + fill.fee;
    return true;
  }
}

/** Why an order cannot stand at all. */
function refusal(o: OrderRequest, quotes: BrokerQuotes): Order['reason'] {
  if (o.legs.some((l) => l.expiry !== null && l.expiry <= quotes.instant)) return 'expired';
  return o.legs.some((l) => quotes.quoteOf(o.symbol, l) === undefined) ? 'not-quoted' : null;
}

/** Net price of one unit at the far side of every leg, and the units that are shown there; none without two sound sides. */
function farSide(o: OrderRequest, quotes: BrokerQuotes): { price: number; legPrices: number[]; units: number } {
  let units = Infinity;
  const legPrices = o.legs.map((leg) => {
    const quote = quotes.quoteOf(o.symbol, leg);
    const [price, size] = leg.ratio > 0 ? [quote?.ask, quote?.askSize] : [quote?.bid, quote?.bidSize];
    const isCrossed = quote !== undefined && quote.bid > quote.ask;
    const isThere = price !== undefined && price > 0 && size !== undefined && size > 0 && !isCrossed;
    units = isThere ? Math.min(units, Math.floor(size / Math.abs(leg.ratio))) : 0;
    return price ?? NaN;
  });
  return { price: o.legs.reduce((sum, l, i) => sum + l.ratio * legPrices[i], 0), legPrices, units };
}
