import type { RequestHandler } from './$types';
import { chainExport } from '$lib/schema/chain-export';
import { issueDetails, problem } from '$lib/server/http/problem';
import { textStream } from '$lib/server/http/text-stream';
import { exportChain } from '$lib/server/services/export-chain';

const TYPES = { csv: 'text/csv; charset=utf-8', jsonl: 'application/jsonl; charset=utf-8' };

export const GET: RequestHandler = async ({ locals, params, url }) => {
  const query = chainExport.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
  const file = await exportChain(locals.connection.database, params.symbol, query.data);
  if (!file.ok) {
    const detail =
      file.reason === 'no-quotes' ? `no quotes of ${params.symbol} are stored` : `no underlying ${params.symbol}`;
    return problem(404, 'not-found', { detail });
  }
  return new Response(textStream(file.text), {
    headers: {
      'content-type': TYPES[query.data.format],
      'content-disposition': `attachment; filename="${file.fileName}"`,
    },
  });
};
