import {
  CURRENCIES,
  dateText,
  dividendsOf,
  HISTORY_SESSIONS,
  keptDays,
  keptInstants,
  SCHEDULED_EVENTS,
  sessionInstant,
  sessionsUpTo,
  TODAY,
  TODAY_DAY,
  UNIVERSE,
} from '@umwelt/market/veldmar';
import { eq } from 'drizzle-orm';
import type { Connection } from '../database/connect.ts';
import { demo } from '../database/schema.ts';
import { claimCurves, claimRows, type DemoKeys, eventKey } from '../repositories/demo-rows.ts';
import { listUnderlyings } from '../repositories/underlyings.ts';
import { demoMarket } from './demo-base.ts';

/**
 * Once after an upgrade from the time when rows did not say who made them: of the demo's underlyings and currencies, what
 * the demo does not make by its own keys is the users'.
 */
export async function claimUserRows(connection: Connection): Promise<void> {
  const [row] = await connection.database.select().from(demo);
  if (!row || row.isClaimed) return;
  await connection.transaction(async ({ database }) => {
    for (const { id, symbol, source } of await listUnderlyings(database)) {
      if (source === 'demo') await claimRows(database, id, demoKeys(symbol));
    }
    await claimCurves(database, {
      currencies: CURRENCIES,
      sessions: sessionsUpTo(TODAY_DAY, HISTORY_SESSIONS).map(dateText),
    });
    await database.update(demo).set({ isClaimed: true }).where(eq(demo.id, row.id));
  });
}

function demoKeys(symbol: string): DemoKeys {
  const listed = UNIVERSE.find((u) => u.symbol === symbol);
  // One that this demo lists no more: nothing of it is made here.
  if (!listed) return { symbol, instants: [], sessions: [], exDates: [], events: [] };
  const closes = demoMarket().history.sessions.map(sessionInstant);
  const kept = keptDays(symbol).flatMap((day) => keptInstants(symbol, day));
  return {
    symbol,
    instants: [...new Set([TODAY, ...closes, ...kept])].map((at) => new Date(at)),
    sessions: demoMarket()
      .bars(symbol)
      .map((bar) => bar.date),
    exDates: dividendsOf(listed).map((d) => d.exDate),
    events: SCHEDULED_EVENTS.filter((e) => symbol in e.moves).map(({ instant, kind, label }) =>
      eventKey({ instant: new Date(instant), kind, label }),
    ),
  };
}
