import { hedgeRequest, hedgeResponse, structureRequest, structureResponse } from '../structure.ts';
import { defineRoute } from './route.ts';

export const structureRoute = defineRoute({
  method: 'post',
  path: '/structures/evaluate',
  summary:
    'What a structure costs, can bring and lose, and how likely it pays, at the first expiry of its legs; its Greeks today',
  body: structureRequest,
  answer: structureResponse,
});

export const hedgeRoute = defineRoute({
  method: 'post',
  path: '/hedges/solve',
  summary: 'Quantities of instruments that bring chosen sums of a position to nothing',
  body: hedgeRequest,
  answer: hedgeResponse,
});
