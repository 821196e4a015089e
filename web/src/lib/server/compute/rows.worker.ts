import type { z } from 'zod';
import { impliedVolatilityRequest, priceRequest } from '../../schema/price.ts';
import { issueDetails } from '../http/problem.ts';
import { impliedVolatilityRow, priceRow } from '../services/price-contracts.ts';
import type { RowMessage, RowTask } from './row-task.ts';

/** A piece is sent when it has grown to this many characters. */
const PIECE = 32_768;

/** Reads, checks and answers one request of many contracts, row by row, in a worker thread. */
export default function answerRows({ kind, text, port }: RowTask): void {
  const send = (message: RowMessage) => port.postMessage(message);
  const schema = kind === 'price' ? priceRequest : impliedVolatilityRequest;
  const parsed = parse(text, schema);
  if (!parsed) send({ type: 'malformed' });
  else if (!parsed.success) send({ type: 'invalid', errors: issueDetails(parsed.error) });
  else {
    const { contracts, accuracy } = parsed.data;
    const answer = kind === 'price' ? priceRow : impliedVolatilityRow;
    let piece = '{"results":[';
    contracts.forEach((row, i) => {
      piece += `${i > 0 ? ',' : ''}${JSON.stringify(answer(row, accuracy))}`;
      if (piece.length < PIECE) return;
      send({ type: 'text', text: piece });
      piece = '';
    });
    send({ type: 'text', text: `${piece}]}` });
  }
  send({ type: 'end' });
}

function parse<T extends z.ZodType>(text: string, schema: T) {
  try {
    return schema.safeParse(JSON.parse(text));
  } catch {
    return undefined;
  }
}
