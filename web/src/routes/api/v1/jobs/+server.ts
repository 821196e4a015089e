import type { RequestHandler } from './$types';
import { jobGroups } from '$lib/server/repositories/jobs';

export const GET: RequestHandler = async ({ locals }) =>
  Response.json({ groups: await jobGroups(locals.connection.database, locals.owner) });
