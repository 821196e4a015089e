import { and, asc, desc, eq, lte, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { rateCurves, type RowSource } from '../database/schema.ts';
import { mayReplace } from './row-source.ts';

export interface RateCurve {
  days: number[];
  rates: number[];
}

/** Latest curve of a currency on or before a civil date. */
export async function curveOn(
  database: Database | Transaction,
  currency: string,
  session: string,
): Promise<RateCurve | undefined> {
  const [row] = await database
    .select({ days: rateCurves.days, rates: rateCurves.rates })
    .from(rateCurves)
    .where(and(eq(rateCurves.currency, currency), lte(rateCurves.session, session)))
    .orderBy(desc(rateCurves.session))
    .limit(1);
  return row;
}

/** All curves of a currency, by session. */
export function curvesOf(database: Database | Transaction, currency: string) {
  return database
    .select({ session: rateCurves.session, days: rateCurves.days, rates: rateCurves.rates })
    .from(rateCurves)
    .where(eq(rateCurves.currency, currency))
    .orderBy(asc(rateCurves.session));
}

/** Currencies with a curve. */
export async function curveCurrencies(database: Database | Transaction): Promise<string[]> {
  const rows = await database
    .selectDistinct({ currency: rateCurves.currency })
    .from(rateCurves)
    .orderBy(asc(rateCurves.currency));
  return rows.map((r) => r.currency);
}

/** Stores curves, replacing those of the same currency and session; the demo's never replace a user's. */
export async function upsertCurves(
  database: Database | Transaction,
  rows: (RateCurve & { currency: string; session: string; source: RowSource })[],
): Promise<void> {
  const batch = 2000;
  for (let i = 0; i < rows.length; i += batch) {
    await database
      .insert(rateCurves)
      .values(rows.slice(i, i + batch))
      .onConflictDoUpdate({
        target: [rateCurves.currency, rateCurves.session],
        set: { days: sql`excluded.days`, rates: sql`excluded.rates`, source: sql`excluded.source` },
        setWhere: mayReplace(rateCurves.source),
      });
  }
}
