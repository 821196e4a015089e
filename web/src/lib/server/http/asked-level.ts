import type { z } from 'zod';
import type { pictureQuery } from '../../api/as-of-context.ts';
import { levelChoice } from '../../api/level.ts';
import type { Connection } from '../database/connect.ts';
import type { AskedLevel } from '../services/level.ts';
import { knownUnderlying } from '../services/stored-moments.ts';
import { requestedPicture } from './picture-request.ts';
import { unknownUnderlying } from './problem.ts';

/** What Level is asked for by a checked query, or the problem document to answer with. */
export async function askedLevel(
  connection: Connection,
  symbol: string,
  query: z.output<typeof pictureQuery> & z.output<typeof levelChoice>,
): Promise<({ ok: true } & AskedLevel) | { ok: false; response: Response }> {
  const found = await requestedPicture(connection, symbol, query);
  if (!found.ok) return found;
  const stored = await knownUnderlying(connection.database, symbol);
  if (!stored) return { ok: false, response: unknownUnderlying(symbol) };
  return {
    ok: true,
    stored,
    picture: found.picture,
    context: query,
    choice: levelChoice.parse(query),
    expiry: query.expiry,
  };
}
