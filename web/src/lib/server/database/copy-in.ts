import type { Writable } from 'node:stream';
import { once } from 'node:events';
import type postgres from 'postgres';

/** Rows on their way into a table by COPY. */
export interface CopyIn {
  /** Waits until there is room for more. @throws what the database says of the rows */
  write: (piece: Uint8Array | string) => Promise<void>;
  /** Waits until all rows have arrived. @throws what the database says of the rows */
  end: () => Promise<void>;
  /** Gives up; nothing of the COPY is kept. */
  abort: (error: Error) => void;
}

/**
 * Begins a COPY in a transaction or on a reserved connection.
 * @param statement `copy … from stdin`; from the code, never from outside
 */
export async function copyIn(
  sql: postgres.Sql | postgres.TransactionSql | postgres.ReservedSql,
  statement: string,
): Promise<CopyIn> {
  const query = sql.unsafe(statement);
  const stream: Writable = await query.writable();
  // The driver tells a failed COPY to the promise of its query, which has been settled with the stream by then: without
  // listening here an error after the last row would be heard by nobody, and the end would be waited for without end.
  const failed = new Promise<never>((_, reject) => {
    void Object.assign(query, { reject });
    stream.once('error', reject);
  });
  failed.catch(() => undefined);
  return {
    async write(piece) {
      if (!stream.write(piece)) await Promise.race([once(stream, 'drain'), failed]);
    },
    async end() {
      const finished = new Promise<void>((resolve) => stream.once('finish', () => resolve()));
      stream.end();
      await Promise.race([finished, failed]);
    },
    abort(error) {
      stream.destroy(error);
    },
  };
}
