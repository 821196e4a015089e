import type { Picture } from '../../api/picture.ts';
import type { Connection } from '../database/connect.ts';
import { type AsOfContext, asOfContext, pictureQuery } from '../../api/as-of-context.ts';
import { loadPicture, type MadePicture } from '../services/picture.ts';
import { issueDetails } from '../../api/issue-details.ts';
import { problem } from './problem.ts';

/** What is seen, and the context, that a GET asks for by symbol and query, or the problem document to answer with. */
export async function requestedPicture(
  connection: Connection,
  symbol: string,
  url: URL,
): Promise<
  { ok: true; made: MadePicture; readonly picture: Picture; context: AsOfContext } | { ok: false; response: Response }
> {
  // A page forgives a malformed parameter; the contract does not.
  const query = pictureQuery.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success)
    return { ok: false, response: problem(400, 'invalid-request', { errors: issueDetails(query.error) }) };
  const context = asOfContext.parse(Object.fromEntries(url.searchParams));
  const result = await loadPicture(connection.database, symbol, context);
  if (result.ok) return Object.assign(result, { context });
  const detail = result.reason === 'no-quotes' ? `no quotes of ${symbol} are stored` : `no underlying ${symbol}`;
  return { ok: false, response: problem(404, 'not-found', { detail }) };
}
