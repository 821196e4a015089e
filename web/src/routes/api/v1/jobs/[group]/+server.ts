import type { RequestHandler } from './$types';
import { z } from 'zod';
import { cancelGroup, findJob, jobsOf, type StoredJob } from '$lib/server/repositories/jobs';

const record = ({ id, label, state, share, attempts, error }: StoredJob) => ({
  ...{ id, label, state, share, attempts, error },
});

/** Jobs of one group, or the one job of an id. */
export const GET: RequestHandler = async ({ locals, params }) => {
  const { database } = locals.connection;
  const one = z.uuid().safeParse(params.group).success && (await findJob(database, locals.owner, params.group));
  if (one) return Response.json(record(one));
  const jobs = await jobsOf(database, locals.owner, params.group);
  return Response.json({ jobs: jobs.map(record) });
};

/** Cancels what is not done yet. */
export const DELETE: RequestHandler = async ({ locals, params }) => {
  const cancelled = await cancelGroup(locals.connection.database, locals.owner, params.group);
  return Response.json({ cancelled: cancelled.length });
};
