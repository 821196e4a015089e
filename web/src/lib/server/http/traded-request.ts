import type { Connection } from '../database/connect.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { requestedPicture } from './picture-request.ts';
import { problem } from './problem.ts';

/** Underlying and instant that a GET asks for, by what is stored or live; or the problem document to answer with. */
export async function requestedInstant(
  connection: Connection,
  symbol: string,
  url: URL,
): Promise<{ ok: true; stored: StoredUnderlying; instant: Date } | { ok: false; response: Response }> {
  const found = await requestedPicture(connection, symbol, url);
  if (!found.ok) return found;
  const stored = await findUnderlying(connection.database, symbol);
  if (!stored) return { ok: false, response: problem(404, 'not-found', { detail: `no underlying ${symbol}` }) };
  return { ok: true, stored, instant: new Date(found.picture.asOf) };
}
