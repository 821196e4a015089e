import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { connect, type Connection } from '../database/connect.ts';
import { readEnvironment, readSpoolSettings } from '../processes/environment.ts';
import { Spool } from './spool.ts';

/** Imports that run side by side; the connections of pages are not theirs to take. */
const CONNECTIONS = 3;

let connection: Connection | undefined;
let spool: Spool | undefined;

/** This server's spool, made on first use. */
export function uploadSpool(): Spool {
  if (spool) return spool;
  const { DATA_DIR, SPOOL_QUOTA, UPLOAD_IDLE } = readSpoolSettings();
  const data = DATA_DIR ?? fileURLToPath(new URL('../../../../../.data', import.meta.url));
  const opened = new Spool({ folder: join(data, 'spool'), quota: SPOOL_QUOTA, idle: 1000 * UPLOAD_IDLE });
  process.once('sveltekit:shutdown', () => opened.close());
  spool = opened;
  return opened;
}

/** The pool of connections that imports share. */
export function importStore(): Connection {
  if (connection) return connection;
  const opened = connect(readEnvironment().DATABASE_URL, { connections: CONNECTIONS });
  process.once('sveltekit:shutdown', () => void opened.close());
  connection = opened;
  return opened;
}
