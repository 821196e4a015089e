import type { Connection } from '../database/connect.ts';
import { storeDemoChains, storeDemoMeasures, type Tick } from '../demo/demo-chains.ts';
import { rebuildMeasures } from '../services/rebuild-measures.ts';
import type { JobPayload } from '../jobs/job-payload.ts';

/** Does what a payload asks; may run twice without harm. */
export function runJob(connection: Connection, payload: JobPayload, tick: Tick): Promise<void> {
  switch (payload.kind) {
    case 'demo-chains':
      return storeDemoChains(connection, payload, tick);
    case 'demo-measures':
      return storeDemoMeasures(connection, payload, tick);
    case 'derive-measures':
      return rebuildMeasures(connection, payload, tick);
  }
}
