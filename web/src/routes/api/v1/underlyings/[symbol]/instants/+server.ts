import { isoInZone } from '@umwelt/market/zone';
import { z } from 'zod';
import type { RequestHandler } from './$types';
import { instantText } from '$lib/api/quantity';
import { issueDetails } from '$lib/api/issue-details';
import { problem } from '$lib/server/http/problem';
import { storedInstants } from '$lib/server/repositories/slices';
import { findUnderlying } from '$lib/server/repositories/underlyings';
import { removeInstants } from '$lib/server/services/change-underlying';

/** Instants that are taken out at once. */
const MOST_INSTANTS = 500;
const query = z.object({ instant: z.array(instantText).min(1).max(MOST_INSTANTS) });

/** Instants at which quotes of an underlying are stored, newest first. */
export const GET: RequestHandler = async ({ locals, params }) => {
  const { database } = locals.connection;
  const found = await findUnderlying(database, params.symbol);
  if (!found) return problem(404, 'not-found', { detail: `no underlying ${params.symbol}` });
  const instants = await storedInstants(database, found.id);
  return Response.json({ instants: instants.reverse().map((at) => isoInZone(at.getTime(), found.zone)) });
};

/** Takes out what was imported of an underlying at instants that the query names. */
export const DELETE: RequestHandler = async ({ locals, params, url }) => {
  const parsed = query.safeParse({ instant: url.searchParams.getAll('instant') });
  if (!parsed.success) return problem(400, 'invalid-request', { errors: issueDetails(parsed.error) });
  const instants = parsed.data.instant.map((text) => new Date(text));
  const removed = await removeInstants(locals.connection.database, params.symbol, instants);
  if (!removed)
    return problem(404, 'not-found', { detail: `nothing that was imported of ${params.symbol} at these instants` });
  return Response.json({ removed });
};
