import { readUploadRoute, removeUploadRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { goneUpload } from '$lib/server/http/received-file';
import { uploadRecord } from '$lib/server/http/upload-record';
import { uploadSpool } from '$lib/server/imports/import-service';

/** What is being done with an upload, and how far it is. */
export const GET = handle(readUploadRoute, ({ parameters }) => {
  const file = uploadSpool().find(parameters.id);
  return file ? uploadRecord(file) : goneUpload();
});

export const DELETE = handle(removeUploadRoute, async ({ parameters }) => {
  await uploadSpool().remove(parameters.id);
  return undefined;
});
