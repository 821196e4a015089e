import { ROUTES } from '$lib/api/contract';
import { documentOf } from '$lib/server/api/document';

let document: ReturnType<typeof documentOf> | undefined;

/** The document of the API; it does not describe itself. */
export const GET = () => {
  document ??= documentOf(ROUTES);
  return Response.json(document);
};
