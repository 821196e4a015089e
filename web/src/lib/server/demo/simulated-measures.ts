import {
  CURRENCIES,
  curveOn,
  dateText,
  dayOf,
  dividendsOf,
  keptDays,
  keptInstants,
  type Listed,
  SCHEDULED_EVENTS,
  sessionClose,
  sessionInstant,
  type SimulatedSlice,
  SPLITS,
  TODAY_DAY,
  UNIVERSE,
} from '@umwelt/market/veldmar';
import type { StoredMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import type { Carry } from '../derive/derive-stored.ts';
import { instantMeasures } from '../derive/instant-measures.ts';
import { BARS_NEEDED } from '../derive/measures-of.ts';
import { sessionBars } from '../derive/session-bars.ts';
import { demoMarket } from './demo-base.ts';

/** An underlying that the exchange lists. @throws Error where it lists none of this symbol */
export function listedOf(symbol: string): Listed {
  const listed = UNIVERSE.find((u) => u.symbol === symbol);
  if (!listed) throw new Error(`${symbol} is not listed`);
  return listed;
}

/** Every instant before today of which the demo has measures, ascending: two years of closes, and what is kept within sessions. */
export function pastInstants(symbol: string): number[] {
  const isPast = (day: number) => day < TODAY_DAY;
  const closes = demoMarket().history.sessions.filter(isPast).map(sessionInstant);
  const kept = keptDays(symbol)
    .filter(isPast)
    .flatMap((day) => keptInstants(symbol, day));
  return [...new Set([...closes, ...kept])].sort((a, b) => a - b);
}

/** Measures of a simulated instant as those of any stored one are derived; nothing is stored. */
export function simulatedMeasures(underlyingId: number, symbol: string, instant: number): StoredMeasures {
  const slices = demoMarket().slices(symbol, instant);
  return measuresOfSimulated(
    listedOf(symbol),
    slices.map((slice) => storedSlice(underlyingId, slice)),
  );
}

/** A simulated slice as it is stored: without what only the simulator knows. */
export function storedSlice(underlyingId: number, slice: SimulatedSlice): StoredSlice {
  const { symbol: _symbol, truth: _truth, instant, expiry, ...columns } = slice;
  return { ...columns, underlyingId, instant: new Date(instant), expiry: new Date(expiry) };
}

/** Measures of the simulated slices of one instant, with the rates, dividends, events and bars that the demo stores. */
export function measuresOfSimulated(listed: Listed, rows: StoredSlice[]): StoredMeasures {
  const { instant } = rows[0];
  const day = dayOf(instant.getTime());
  const carry: Carry = {
    curve: curveOn(listed.currency, day),
    // Of what is published: the auk's curve is not.
    foreignCurve: CURRENCIES.includes(listed.foreignCurrency ?? '')
      ? curveOn(listed.foreignCurrency as string, day)
      : undefined,
    dividends: dividendsOf(listed).map((d) => ({ instant: new Date(d.instant), amount: d.amount })),
    isFuture: listed.model === 'futures',
    exercise: listed.exercise,
  };
  const last = rows[rows.length - 1].expiry.getTime();
  const events = SCHEDULED_EVENTS.filter(
    (e) => listed.symbol in e.moves && e.instant > instant.getTime() && e.instant <= last,
  ).map((e) => ({ instant: new Date(e.instant), kind: e.kind }));
  const date = dateText(day);
  const isOver = instant.getTime() >= sessionClose(day);
  const bars = barsOf(listed.symbol)
    .filter((b) => b.date < date || (isOver && b.date === date))
    .slice(-BARS_NEEDED)
    .map(({ date: session, ...bar }) => ({ ...bar, session }));
  const ended = sessionBars({
    bars,
    dividends: dividendsOf(listed),
    splits: SPLITS.filter((s) => s.symbol === listed.symbol),
  });
  return instantMeasures({ rows, carry, events, ended, source: 'demo' });
}

const bars = new Map<string, ReturnType<ReturnType<typeof demoMarket>['bars']>>();

function barsOf(symbol: string) {
  let known = bars.get(symbol);
  if (!known) bars.set(symbol, (known = demoMarket().bars(symbol)));
  return known;
}
