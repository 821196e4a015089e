import type { RequestHandler } from './$types';
import { cancelGroup, jobsOf } from '$lib/server/repositories/jobs';

/** Jobs of one group. */
export const GET: RequestHandler = async ({ locals, params }) => {
  const jobs = await jobsOf(locals.connection.database, locals.owner, params.group);
  return Response.json({
    jobs: jobs.map(({ id, label, state, share, attempts, error }) => ({ id, label, state, share, attempts, error })),
  });
};

/** Cancels what is not done yet. */
export const DELETE: RequestHandler = async ({ locals, params }) => {
  const cancelled = await cancelGroup(locals.connection.database, locals.owner, params.group);
  return Response.json({ cancelled: cancelled.length });
};
