import { connect, type Connection } from '../database/connect.ts';
import { readEnvironment } from './environment.ts';

let connection: Connection | undefined;

/** The application's one pool of database connections, opened on first use. */
export function store(): Connection {
  connection ??= connect(readEnvironment().DATABASE_URL);
  return connection;
}
