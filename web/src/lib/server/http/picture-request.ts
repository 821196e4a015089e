import type { z } from 'zod';
import type { pictureQuery } from '../../api/as-of-context.ts';
import type { Picture } from '../../api/picture.ts';
import type { Connection } from '../database/connect.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { loadPicture, type MadePicture } from '../services/picture.ts';
import { knownUnderlying } from '../services/stored-moments.ts';
import { problem, unknownUnderlying } from './problem.ts';

type Refused = { ok: false; response: Response };

/** What is seen of an underlying by a checked query, or the problem document to answer with. */
export async function requestedPicture(
  connection: Connection,
  symbol: string,
  query: z.output<typeof pictureQuery>,
): Promise<{ ok: true; made: MadePicture; readonly picture: Picture } | Refused> {
  const result = await loadPicture(connection.database, symbol, query);
  if (result.ok) return result;
  if (result.reason === 'unknown-underlying') return { ok: false, response: unknownUnderlying(symbol) };
  return { ok: false, response: problem(404, 'not-found', { detail: `no quotes of ${symbol} are stored` }) };
}

/** The underlying and the instant that are asked for, by what is stored or live; or the problem document to answer with. */
export async function requestedInstant(
  connection: Connection,
  symbol: string,
  query: z.output<typeof pictureQuery>,
): Promise<{ ok: true; stored: StoredUnderlying; instant: Date } | Refused> {
  const found = await requestedPicture(connection, symbol, query);
  if (!found.ok) return found;
  const stored = await knownUnderlying(connection.database, symbol);
  if (!stored) return { ok: false, response: unknownUnderlying(symbol) };
  return { ok: true, stored, instant: new Date(found.picture.asOf) };
}
