import { importStore, uploadSpool } from '../imports/import-service.ts';
import type { SpooledFile } from '../imports/spool.ts';
import type { Connection } from '../database/connect.ts';
import { bodyPieces } from './body-pieces.ts';
import { receiveProblem } from './import-problem.ts';
import { problem } from './problem.ts';

/** Largest file that is taken in, before it is unfolded. */
export const MAX_UPLOAD_BYTES = 1 << 29;

/** A body as a file, received whole; or the problem document to answer with. */
export async function receiveBody(
  request: Request,
  name?: string,
): Promise<{ ok: true; file: SpooledFile } | { ok: false; response: Response }> {
  // Without a type the body is not handed on at all.
  if (!request.headers.has('content-type')) {
    const detail = 'say what the body is by a Content-Type, such as text/csv';
    return { ok: false, response: problem(400, 'invalid-request', { detail }) };
  }
  const received = await uploadSpool().receive(bodyPieces(request), MAX_UPLOAD_BYTES, name);
  return received.ok ? received : { ok: false, response: receiveProblem(received) };
}

/**
 * Does something with the files that a request names by `upload=` and `beside=`, or else with the one that it carries as its
 * body, which is removed afterwards.
 * @param o.left tells that the client has gone
 * @param work gets the pool of connections that imports share, and a signal for when the client has gone
 */
export async function withReceivedFiles(
  request: Request,
  { upload, beside, left }: { upload: string | undefined; beside?: string; left: AbortSignal },
  work: (files: [SpooledFile, ...SpooledFile[]], connection: Connection, signal: AbortSignal) => Promise<Response>,
): Promise<Response> {
  const spool = uploadSpool();
  if (upload !== undefined) {
    const file = spool.find(upload);
    const second = beside === undefined ? undefined : spool.find(beside);
    if (!file || (beside !== undefined && !second)) return goneUpload();
    const both = () => work(second ? [file, second] : [file], importStore(), left);
    return spool.use(file, () => (second ? spool.use(second, both) : both()));
  }
  const received = await receiveBody(request);
  if (!received.ok) return received.response;
  const { file } = received;
  try {
    return await spool.use(file, () => work([file], importStore(), left));
  } finally {
    await spool.remove(file.id);
  }
}

/** The answer where an upload is not known: another machine has it, or it was not used for too long. */
export function goneUpload(): Response {
  return problem(410, 'gone', { detail: 'This upload is not here any more; send the file again.' });
}
