import { takeUploadRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { receiveBody } from '$lib/server/http/received-file';
import { uploadRecord } from '$lib/server/http/upload-record';

/** Takes a file in; preview and import name it by the id that is answered. */
export const POST = handle(takeUploadRoute, async ({ query, event }) => {
  const received = await receiveBody(event.request, query.fileName?.slice(0, 255));
  return received.ok ? uploadRecord(received.file) : received.response;
});
