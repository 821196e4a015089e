import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import type { Connection } from '../database/connect.ts';
import { beatProcess, removeProcess, type StoredProcess } from '../repositories/processes.ts';

const BEAT_MILLISECONDS = 2000;
/** A process that gave no sign for this long has died or lost its database. */
export const SILENT_SECONDS = 8;
/** After this it is listed no more. */
const FORGOTTEN_SECONDS = 60;

/** One for the life of the process, also when it connects anew. */
const id = randomUUID();

/** Tells the database every two seconds that this process is there, until it is stopped. */
export function giveSignsOfLife(connection: Connection, kind: StoredProcess['kind']): { stop: () => Promise<void> } {
  const own = { id, kind, host: hostname(), pid: process.pid };
  let isBeating = false;
  const beat = async () => {
    if (isBeating) return;
    isBeating = true;
    try {
      await beatProcess(connection.database, own, FORGOTTEN_SECONDS);
    } catch {
      // The database is away: the next beat tries again.
    } finally {
      isBeating = false;
    }
  };
  void beat();
  const timer = setInterval(() => void beat(), BEAT_MILLISECONDS);
  timer.unref();
  return {
    async stop() {
      clearInterval(timer);
      await removeProcess(connection.database, own.id).catch(() => undefined);
    },
  };
}
