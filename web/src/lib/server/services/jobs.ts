import { z } from 'zod';
import type { JobGroup } from '../../api/live.ts';
import type { Database } from '../database/connect.ts';
import { cancelGroup, findJob, jobGroups, jobsOf, type StoredJob } from '../repositories/jobs.ts';

const told = ({ id, label, state, share, attempts, error }: StoredJob) => ({
  ...{ id, label, state, share, attempts, error },
});

/** Groups of jobs with how far they are, newest first. */
export function groupsOf(database: Database, owner: string): Promise<JobGroup[]> {
  return jobGroups(database, owner);
}

/** Jobs of one group, or the one job of an id. */
export async function readJobs(database: Database, owner: string, groupOrId: string) {
  const one = z.uuid().safeParse(groupOrId).success ? await findJob(database, owner, groupOrId) : undefined;
  return one ? told(one) : { jobs: (await jobsOf(database, owner, groupOrId)).map(told) };
}

/** Cancels what a group has not done yet. @returns how many jobs will not begin */
export async function cancelJobs(database: Database, owner: string, group: string): Promise<number> {
  return (await cancelGroup(database, owner, group)).length;
}
