import type { RequestHandler } from './$types';
import { openApiDocument } from '$lib/server/http/openapi';

export const GET: RequestHandler = () => Response.json(openApiDocument());
