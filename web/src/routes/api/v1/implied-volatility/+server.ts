import type { RequestHandler } from './$types';
import { rowStream } from '$lib/server/http/row-stream';

export const POST: RequestHandler = ({ request, locals }) => rowStream(request, 'implied-volatility', locals.left);
