import pg from 'pg';

/** A database that was away is asked for again after so long, milliseconds. */
const RETRY = 500;

/**
 * Hears notices of a channel on a connection of its own, made anew whenever it is lost, until it is stopped.
 * @param channel from the code, never from outside
 * @param o.onlisten called each time listening begins: what was said before went unheard
 */
export function listen(
  url: string,
  channel: string,
  o: { onnotice: () => void; onlisten: () => void },
): { stop: () => Promise<void> } {
  let isStopped = false;
  let client: pg.Client | undefined;
  let timer: NodeJS.Timeout | undefined;
  const again = () => {
    client = undefined;
    if (!isStopped) timer = setTimeout(() => void open(), RETRY);
  };
  const open = async () => {
    const opened = new pg.Client({ connectionString: url, keepAlive: true, connectionTimeoutMillis: 10_000 });
    client = opened;
    opened.on('error', () => undefined);
    opened.on('notification', () => o.onnotice());
    try {
      await opened.connect();
      await opened.query(`listen ${channel}`);
      opened.once('end', again);
      o.onlisten();
    } catch {
      await opened.end().catch(() => undefined);
      again();
    }
  };
  void open();
  return {
    async stop() {
      isStopped = true;
      clearTimeout(timer);
      await client?.end().catch(() => undefined);
    },
  };
}
