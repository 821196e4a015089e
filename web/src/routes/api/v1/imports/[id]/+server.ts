import { z } from 'zod';
import type { RequestHandler } from './$types';
import { problem } from '$lib/server/http/problem';
import { jobQueue } from '$lib/server/jobs/job-queue';
import { importStore } from '$lib/server/imports/import-service';
import { undoImport } from '$lib/server/imports/undo-import';

const WHY = {
  undone: 'it has been taken back before',
  dropped: 'so many imports came after it that what it replaced is not kept any more',
  never: 'it was made before what imports replace was kept',
} as const;

/** Takes an import back: what it wrote becomes what it was, but for rows that were changed since. */
export const DELETE: RequestHandler = async ({ locals, params }) => {
  const unknown = () => problem(404, 'not-found', { detail: `no import ${params.id}` });
  if (!z.uuid().safeParse(params.id).success) return unknown();
  const outcome = await undoImport(importStore(), locals.owner, params.id, {
    signal: locals.left,
    queue: jobQueue,
  });
  if (outcome.ok) {
    const { restored, kept, removed } = outcome;
    return Response.json({ restored, kept, removed });
  }
  if (outcome.reason === 'unknown') return unknown();
  return problem(409, 'forbidden', {
    detail: `This import cannot be taken back: ${WHY[outcome.undo]}.`,
    more: { reason: outcome.undo },
  });
};
