import type { RequestHandler } from './$types';
import { receiveBody } from '$lib/server/http/received-file';
import { uploadRecord } from '$lib/server/http/upload-record';

/** Takes a file in; preview and import name it by the id that is answered. */
export const POST: RequestHandler = async ({ request, url }) => {
  const name = url.searchParams.get('fileName')?.slice(0, 255);
  const received = await receiveBody(request, name);
  return received.ok ? Response.json(uploadRecord(received.file), { status: 201 }) : received.response;
};
