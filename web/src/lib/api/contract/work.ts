import { z } from 'zod';
import { feedCommand, feedStatus, jobGroup, processStatus } from '../live.ts';
import { defineRoute } from './route.ts';

export const healthRoute = defineRoute({
  method: 'get',
  path: '/health',
  summary: 'Whether the process answers',
  answers: 'It does',
  answer: z.object({ status: z.literal('ok') }),
});

export const readyRoute = defineRoute({
  method: 'get',
  path: '/ready',
  summary: 'Whether pages can be served; a missing worker only keeps long work waiting',
  answers: 'Ready',
  answer: z.object({
    status: z.enum(['ready', 'not-ready']),
    missing: z.array(z.enum(['database', 'migrations', 'worker'])).meta({ description: 'What is not there' }),
  }),
  otherStatus: { 503: 'Not ready, and what is missing' },
});

export const listProcessesRoute = defineRoute({
  method: 'get',
  path: '/processes',
  summary: "The application's processes on any machine",
  answers: 'Processes by age',
  answer: z.object({ processes: z.array(processStatus) }),
  rows: ({ processes }) => processes,
});

export const feedRoute = defineRoute({
  method: 'get',
  path: '/feed',
  summary: 'State of the feed',
  answer: feedStatus,
});

export const commandFeedRoute = defineRoute({
  method: 'post',
  path: '/feed',
  summary: 'Start, pause, step or set the feed',
  body: feedCommand,
  answer: feedStatus,
});

export const listJobsRoute = defineRoute({
  method: 'get',
  path: '/jobs',
  summary: 'Long work and how far it is, by group',
  answer: z.object({ groups: z.array(jobGroup) }),
  rows: ({ groups }) => groups,
});

const group = z.object({ group: z.string() });
const job = z
  .object({
    id: z.string(),
    label: z.string().meta({ description: 'What is done, in words' }),
    state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
    share: z.number().meta({ description: 'How far it is, from 0 to 1' }),
    attempts: z.number().meta({ description: 'How often it was begun' }),
    error: z.string().nullable().meta({ description: 'Why it failed, or was given back; null otherwise' }),
  })
  .meta({ id: 'Job' });

export const readJobsRoute = defineRoute({
  method: 'get',
  path: '/jobs/{group}',
  summary: 'Jobs of one group, or the one job of an id',
  parameters: group,
  answer: z.union([z.object({ jobs: z.array(job) }), job]),
});

export const cancelJobsRoute = defineRoute({
  method: 'delete',
  path: '/jobs/{group}',
  summary: 'Cancel what a group of jobs has not done yet',
  parameters: group,
  answer: z.object({ cancelled: z.number().meta({ description: 'Jobs that will not begin' }) }),
});

export const streamRoute = defineRoute({
  method: 'get',
  path: '/stream',
  summary: 'Server-sent events: status every second, the picture of each topic with every wave of quotes',
  answers: 'Events',
  query: z.object({
    topic: z.array(z.string()).default([]),
  }),
  repeated: ['topic'],
  answer: z.string(),
  answerTypes: ['text/event-stream'],
});
