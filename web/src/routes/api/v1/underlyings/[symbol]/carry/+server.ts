import { carryRoute, giveCarryBackRoute, takeCarryRoute } from '$lib/api/contract/views';
import { carryRows } from '$lib/market';
import { handle } from '$lib/server/api/handle';
import { requestedPicture } from '$lib/server/http/picture-request';
import { problem, unknownUnderlying } from '$lib/server/http/problem';
import { takeOverCarry, type TakeOverOutcome } from '$lib/server/services/take-over-carry';

export const GET = handle(carryRoute, async ({ parameters, query, event }) => {
  const found = await requestedPicture(event.locals.connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { underlying, asOf, carry } = found.picture;
  return { symbol: underlying.symbol, asOf, ...carry, expiries: carryRows(found.picture) };
});

export const PUT = handle(takeCarryRoute, async ({ parameters: { symbol }, body, event }) => {
  const outcome = await takeOverCarry(event.locals.connection, event.locals.owner, { symbol, terms: body });
  return outcome.ok ? { ...body, job: outcome.job } : refused(symbol, outcome.reason);
});

export const DELETE = handle(giveCarryBackRoute, async ({ parameters: { symbol }, event }) => {
  const outcome = await takeOverCarry(event.locals.connection, event.locals.owner, { symbol, terms: null });
  return outcome.ok ? { job: outcome.job } : refused(symbol, outcome.reason);
});

function refused(symbol: string, reason: Extract<TakeOverOutcome, { ok: false }>['reason']): Response {
  if (reason === 'not-american') {
    const detail = `the carry of ${symbol} is not inferred: its options are not American ones on a spot`;
    return problem(409, 'conflict', { detail });
  }
  if (reason === 'unknown') return unknownUnderlying(symbol);
  return problem(404, 'not-found', { detail: `nothing was taken over for ${symbol}` });
}
