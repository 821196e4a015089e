import { chainOptions, type VolatilityInForce } from '../../theory/index.ts';
import type { ChainRow } from '../../api/chain-row.ts';
import type { ExpiryPicture } from '../../api/picture.ts';
import { compute } from '../derive/pool.ts';

/** Options valued in one turn: with cash dividends that takes a fifth of a second. */
const OPTIONS_PER_TURN = 200;

/**
 * Quotes of both sides of an expiry against theory, valued in turns, so that thousands of American options keep nobody
 * waiting.
 * @param o.signal of whoever asked: when gone, no further turn is taken
 */
export async function chainValues(
  expiry: ExpiryPicture,
  inForce: VolatilityInForce,
  o: { lane: string; signal?: AbortSignal; perTurn?: number },
): Promise<ChainRow[]> {
  const { lane, signal, perTurn = OPTIONS_PER_TURN } = o;
  const options = chainOptions(expiry, 'both');
  const rows: ChainRow[] = [];
  for (let from = 0; from < options.length; from += perTurn) {
    signal?.throwIfAborted();
    rows.push(...(await compute('chain', { expiry, inForce, options: options.slice(from, from + perTurn) }, { lane })));
  }
  return rows;
}
