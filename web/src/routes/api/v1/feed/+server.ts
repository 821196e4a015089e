import type { RequestHandler } from './$types';
import { feedCommand } from '$lib/api/live';
import { problem } from '$lib/server/http/problem';
import { readJson } from '$lib/server/http/read-json';
import { commandFeed, feedState } from '$lib/server/services/feed-control';

const NO_FEED = 'no feed has run yet; ./start runs one';

export const GET: RequestHandler = async ({ locals }) => {
  const status = await feedState(locals.connection.database);
  return status ? Response.json(status) : problem(404, 'not-found', { detail: NO_FEED });
};

export const POST: RequestHandler = async ({ request, locals }) => {
  const body = await readJson(request, feedCommand);
  if (!body.ok) return body.response;
  const status = await commandFeed(locals.connection.database, body.data);
  return status ? Response.json(status) : problem(404, 'not-found', { detail: NO_FEED });
};
