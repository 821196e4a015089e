import type { RequestHandler } from './$types';
import { carryRows } from '$lib/views/term/carry-rows';
import { carryTerms } from '$lib/api/carry';
import { listResponse, wantsCsv } from '$lib/server/http/list-response';
import { requestedPicture } from '$lib/server/http/picture-request';
import { problem } from '$lib/server/http/problem';
import { readJson } from '$lib/server/http/read-json';
import { takeOverCarry, type TakeOverOutcome } from '$lib/server/services/take-over-carry';

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const rows = carryRows(found.picture);
  if (wantsCsv(request, url)) {
    return listResponse(request, url, 'carry', rows);
  }
  const { underlying, asOf, carry } = found.picture;
  return Response.json({ symbol: underlying.symbol, asOf, ...carry, expiries: rows });
};

/** Takes financing, borrow and dividends over as known; `job` derives what is stored anew under them. */
export const PUT: RequestHandler = async ({ locals, params, request }) => {
  const body = await readJson(request, carryTerms);
  if (!body.ok) return body.response;
  const outcome = await takeOverCarry(locals.connection, locals.owner, { symbol: params.symbol, terms: body.data });
  if (!outcome.ok) return refused(params.symbol, outcome.reason);
  return Response.json({ ...body.data, job: outcome.job });
};

/** Gives back what was taken over. */
export const DELETE: RequestHandler = async ({ locals, params }) => {
  const outcome = await takeOverCarry(locals.connection, locals.owner, { symbol: params.symbol, terms: null });
  if (outcome.ok) return Response.json({ job: outcome.job });
  return refused(params.symbol, outcome.reason);
};

function refused(symbol: string, reason: Extract<TakeOverOutcome, { ok: false }>['reason']): Response {
  if (reason === 'not-american') {
    const detail = `the carry of ${symbol} is not inferred: its options are not American ones on a spot`;
    return problem(409, 'forbidden', { detail });
  }
  const detail = reason === 'unknown' ? `no underlying ${symbol}` : `nothing was taken over for ${symbol}`;
  return problem(404, 'not-found', { detail });
}
