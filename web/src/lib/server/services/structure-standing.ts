import { isoInZone } from '@umwelt/market/zone';
import type { Picture } from '../../api/picture.ts';
import type { StructureBySymbol } from '../../api/structure.ts';
import { hasEnded } from '../../market/index.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { splitsOf } from '../repositories/splits.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { settlementsOf } from './settlements.ts';

/** What has become of the legs of a structure by an instant: what ended ones were settled at, and splits since they were told. */
export async function standingOf(
  database: Database | Transaction,
  picture: Picture,
  { legs, unlisted, unitsOf }: StructureBySymbol,
): Promise<{ settlements: ReadonlyMap<string, number | null>; splitFactor: number }> {
  const dates = legs.flatMap((leg) =>
    leg.kind === 'option' && unlisted === 'value' && hasEnded(picture, leg.expiry) ? [leg.expiry] : [],
  );
  if (dates.length === 0 && unitsOf === undefined) return { settlements: new Map(), splitFactor: 1 };
  const stored = await findUnderlying(database, picture.underlying.symbol);
  if (!stored) return { settlements: new Map(), splitFactor: 1 };
  const instant = new Date(picture.asOf);
  const [settled, splits] = await Promise.all([
    settlementsOf(database, stored, { instant, dates }),
    unitsOf === undefined ? [] : splitsOf(database, stored.id),
  ]);
  const dateOf = (at: Date) => isoInZone(at.getTime(), stored.zone).slice(0, 10);
  const [from, to] = [dateOf(new Date(unitsOf ?? picture.asOf)), dateOf(instant)];
  const since = splits.filter(({ session }) => session > from && session <= to);
  return {
    settlements: new Map(settled.map(({ expiry, price }) => [expiry, price])),
    splitFactor: since.reduce((product, { ratio }) => product * ratio, 1),
  };
}
