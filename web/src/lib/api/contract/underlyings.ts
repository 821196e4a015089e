import { z } from 'zod';
import { instantText, storedSymbol } from '../quantity.ts';
import { underlyingChange, underlyingSummary } from '../underlying.ts';
import { defineRoute } from './route.ts';

const parameters = z.object({ symbol: storedSymbol });
/** Instants that are taken out at once. */
const MOST_INSTANTS = 500;

export const listUnderlyingsRoute = defineRoute({
  method: 'get',
  path: '/underlyings',
  summary: 'All underlyings',
  answers: 'Underlyings and contract terms',
  answer: z.object({ underlyings: z.array(underlyingSummary) }),
  rows: ({ underlyings }) => underlyings,
});

export const readUnderlyingRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}',
  summary: 'One underlying',
  parameters,
  answer: underlyingSummary.extend({
    first: instantText.nullable().meta({ description: 'First instant that is stored; null when none is' }),
    latest: instantText.nullable().meta({ description: 'Latest instant that is stored; null when none is' }),
  }),
});

export const changeUnderlyingRoute = defineRoute({
  method: 'patch',
  path: '/underlyings/{symbol}',
  summary:
    'Give an imported underlying another symbol, which the old one leads to, or other terms, under which a job derives it anew',
  parameters,
  body: underlyingChange,
  answer: underlyingSummary.extend({ job: z.uuid().optional().meta({ description: 'The job that derives it anew' }) }),
});

export const removeUnderlyingRoute = defineRoute({
  method: 'delete',
  path: '/underlyings/{symbol}',
  summary: 'Take an imported underlying out with all that is stored of it',
  answers: 'It is gone',
  parameters,
  answer: z.undefined(),
});

export const listInstantsRoute = defineRoute({
  method: 'get',
  path: '/underlyings/{symbol}/instants',
  summary: 'Instants at which quotes of an underlying are stored, newest first',
  parameters,
  answer: z.object({ instants: z.array(instantText) }),
  rows: ({ instants }) => instants.map((instant) => ({ instant })),
});

export const removeInstantsRoute = defineRoute({
  method: 'delete',
  path: '/underlyings/{symbol}/instants',
  summary: 'Take out what was imported at some instants',
  parameters,
  query: z.object({ instant: z.array(instantText).min(1).max(MOST_INSTANTS) }),
  repeated: ['instant'],
  answer: z.object({ removed: z.number().meta({ description: 'Slices that were taken out' }) }),
});
