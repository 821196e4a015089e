import type { RequestHandler } from './$types';
import { underlyingChange } from '$lib/api/underlying';
import { problem } from '$lib/server/http/problem';
import { readJson } from '$lib/server/http/read-json';
import { findUnderlying } from '$lib/server/repositories/underlyings';
import { changeUnderlying, removeUnderlying } from '$lib/server/services/change-underlying';
import { storedMoment } from '$lib/server/services/stored-moments';

const unknown = (symbol: string) => problem(404, 'not-found', { detail: `no underlying ${symbol}` });

export const GET: RequestHandler = async ({ locals, params }) => {
  const { database } = locals.connection;
  const found = await findUnderlying(database, params.symbol);
  if (!found) return unknown(params.symbol);
  const { id, ...underlying } = found;
  const around = await storedMoment(database, found, undefined);
  return Response.json({ ...underlying, first: around?.first ?? null, latest: around?.latest ?? null });
};

/** Gives an imported underlying another symbol or other terms; `job` derives it anew under these. */
export const PATCH: RequestHandler = async ({ locals, params, request }) => {
  const body = await readJson(request, underlyingChange);
  if (!body.ok) return body.response;
  const outcome = await changeUnderlying(locals.connection, locals.owner, { symbol: params.symbol, change: body.data });
  if (outcome.ok) {
    const { id: _, ...underlying } = outcome.underlying;
    return Response.json(outcome.job === null ? underlying : { ...underlying, job: outcome.job });
  }
  switch (outcome.reason) {
    case 'unknown':
      return unknown(params.symbol);
    case 'not-yours':
      return problem(409, 'forbidden', { detail: `${params.symbol} is the demo's own` });
    case 'taken':
      return problem(409, 'invalid-request', {
        errors: [
          { path: 'symbol', message: `another underlying is called ${body.data.symbol}, in this or another case` },
        ],
      });
  }
};

/** Takes an imported underlying out with all that is stored of it. */
export const DELETE: RequestHandler = async ({ locals, params }) => {
  if (!(await removeUnderlying(locals.connection, params.symbol)))
    return problem(404, 'not-found', { detail: `no imported underlying ${params.symbol}` });
  return new Response(null, { status: 204 });
};
