import { isZone, VELDMAR_ZONE } from '@umwelt/market/zone';
import type { Database } from '../database/connect.ts';
import { setZone, storedZones } from '../repositories/underlyings.ts';

/** Zones from before there was a rule, under which no page opens: the exchange's own takes their place, and the log says so. */
export async function mendZones(database: Database): Promise<void> {
  for (const zone of await storedZones(database)) {
    if (isZone(zone)) continue;
    console.log(`the time zone "${zone}" does not exist; ${VELDMAR_ZONE} takes its place`);
    await setZone(database, zone, VELDMAR_ZONE);
  }
}
