import { z } from 'zod';
import {
  keepRequest,
  keptChange,
  keptResponse,
  keptStructure,
  shelfFile,
  shelfImported,
  shelfRow,
} from '../kept-structure.ts';
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
  isBodyReadApart: true,
  answer: hedgeResponse,
});

const parameters = z.object({ id: z.uuid() });

export const keptRoute = defineRoute({
  method: 'get',
  path: '/structures/kept',
  summary: 'Structures on the Shelf, newest first; as CSV one row each, as it can be imported again',
  answer: keptResponse,
  rows: ({ structures }) => structures.map(shelfRow),
});

export const keepRoute = defineRoute({
  method: 'post',
  path: '/structures/kept',
  summary: 'Keep a structure on the Shelf',
  body: keepRequest,
  answer: keptStructure,
  status: 201,
});

export const shelfImportRoute = defineRoute({
  method: 'post',
  path: '/structures/kept/import',
  summary: 'Keep the structures of a file that was exported, JSON or CSV: all, or none where a row is wrong',
  body: shelfFile,
  isBodyReadApart: true,
  answer: shelfImported,
  status: 201,
});

export const changeKeptRoute = defineRoute({
  method: 'put',
  path: '/structures/kept/{id}',
  summary: 'Give a kept structure another name and other tags',
  parameters,
  body: keptChange,
  answer: keptStructure,
});

export const dropRoute = defineRoute({
  method: 'delete',
  path: '/structures/kept/{id}',
  summary: 'Keep a structure no longer',
  answers: 'It is gone',
  parameters,
  answer: z.undefined(),
});
