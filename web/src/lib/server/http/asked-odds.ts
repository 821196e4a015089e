import type { z } from 'zod';
import type { RequestEvent } from '@sveltejs/kit';
import type { pictureQuery } from '../../api/as-of-context.ts';
import { focusExpiry } from '../../market/index.ts';
import type { AskedOdds } from '../services/odds.ts';
import { knownUnderlying } from '../services/stored-moments.ts';
import { requestedPicture } from './picture-request.ts';
import { problem, unknownUnderlying } from './problem.ts';

/** Odds of which expiry are asked for by a checked query, or the problem document to answer with. */
export async function askedOdds(
  event: RequestEvent,
  symbol: string,
  query: z.output<typeof pictureQuery>,
): Promise<{ ok: true; asked: AskedOdds } | { ok: false; response: Response }> {
  const { connection, owner } = event.locals;
  const found = await requestedPicture(connection, symbol, query);
  if (!found.ok) return found;
  const { picture } = found;
  const stored = await knownUnderlying(connection.database, symbol);
  if (!stored) return { ok: false, response: unknownUnderlying(symbol) };
  const expiry = query.expiry ? picture.expiries.find((e) => e.date === query.expiry) : focusExpiry(picture, {});
  if (!expiry)
    return {
      ok: false,
      response: problem(404, 'not-found', { detail: `no expiry ${query.expiry ?? ''} at ${picture.asOf}` }),
    };
  return { ok: true, asked: { stored, owner, picture, expiry, context: query, signal: event.request.signal } };
}
