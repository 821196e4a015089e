import { z } from 'zod';
import { undoImportRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { importStore } from '$lib/server/imports/import-service';
import { undoImport } from '$lib/server/imports/undo-import';
import { jobQueue } from '$lib/server/jobs/job-queue';

const WHY = {
  undone: 'it has been taken back before',
  dropped: 'so many imports came after it that what it replaced is not kept any more',
  never: 'it was made before what imports replace was kept',
} as const;

export const DELETE = handle(undoImportRoute, async ({ parameters: { id }, event }) => {
  const unknown = () => problem(404, 'not-found', { detail: `no import ${id}` });
  if (!z.uuid().safeParse(id).success) return unknown();
  const { owner, left } = event.locals;
  const outcome = await undoImport(importStore(), owner, id, { signal: left, queue: jobQueue });
  if (outcome.ok) {
    const { restored, kept, removed } = outcome;
    return { restored, kept, removed };
  }
  if (outcome.reason === 'unknown') return unknown();
  return problem(409, 'conflict', {
    detail: `This import cannot be taken back: ${WHY[outcome.undo]}.`,
    more: { reason: outcome.undo },
  });
});
