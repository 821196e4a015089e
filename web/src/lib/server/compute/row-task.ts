import type { MessagePort } from 'node:worker_threads';

/** What a worker is asked: the text of a request, and the port on which it answers. */
export interface RowTask {
  kind: 'price' | 'implied-volatility';
  text: string;
  port: MessagePort;
}

/**
 * First whether the request holds together, then pieces of the answer's text and its end. The end is a message of its
 * own because a resting worker thread does not report that it has closed its port.
 */
export type RowMessage =
  | { type: 'malformed' }
  | { type: 'invalid'; errors: { path: string; message: string }[] }
  | { type: 'text'; text: string }
  | { type: 'end' };
