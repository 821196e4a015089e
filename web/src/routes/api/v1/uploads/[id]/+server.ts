import type { RequestHandler } from './$types';
import { goneUpload } from '$lib/server/http/received-file';
import { uploadRecord } from '$lib/server/http/upload-record';
import { uploadSpool } from '$lib/server/imports/import-service';

/** What is being done with an upload, and how far it is. */
export const GET: RequestHandler = ({ params }) => {
  const file = uploadSpool().find(params.id);
  return file ? Response.json(uploadRecord(file)) : goneUpload();
};

export const DELETE: RequestHandler = async ({ params }) => {
  await uploadSpool().remove(params.id);
  return new Response(null, { status: 204 });
};
