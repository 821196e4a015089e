import { connect, type Connection } from '../database/connect.ts';
import { giveSignsOfLife } from './sign-of-life.ts';
import { readEnvironment } from './environment.ts';

/** A page that waits longer for one statement has been left, seconds. */
const LONGEST_STATEMENT = 90;

let connection: Connection | undefined;

/** The application's one pool of database connections, opened on first use. */
export function store(): Connection {
  if (connection) return connection;
  const opened = connect(readEnvironment().DATABASE_URL, { seconds: LONGEST_STATEMENT });
  // The server tells when it has stopped listening; open connections would keep the process alive.
  const stop = async (): Promise<void> => {
    try {
      await signs.stop();
    } finally {
      await opened.close();
    }
  };
  process.once('sveltekit:shutdown', () => void stop());
  const signs = giveSignsOfLife(opened, 'server');
  connection = opened;
  return opened;
}
