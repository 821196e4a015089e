import type { ChainField } from '@umwelt/market/chain-format';
import type { RowProblem } from '@umwelt/market/chain-file';
import type { FileLimits } from '@umwelt/market/file-limits';
import type { ReadOutcome } from './read-apart.ts';

/** Why a file was not taken in. */
export type ImportFailure =
  | { reason: 'empty' | 'binary' | 'no-table' | 'no-rows' | 'malformed' }
  | { reason: 'unreadable'; remedy: string }
  | { reason: 'too-large'; limit: number }
  | { reason: 'limit'; limit: keyof FileLimits; most: number; found: number }
  | { reason: 'memory'; most: number }
  | { reason: 'span'; years: number; most: number }
  | { reason: 'missing-columns'; columns: ChainField[] }
  | { reason: 'no-price'; symbol: string }
  | { reason: 'bad-rows'; problems: RowProblem[]; isTruncated: boolean };

/** Thrown inside a transaction so that the database rolls everything back. */
export class Rejected extends Error {
  readonly failure: ImportFailure;
  constructor(failure: ImportFailure) {
    super(failure.reason);
    this.failure = failure;
  }
}

/** Thrown when a reader ends in a way that no file should bring about. */
export class ReaderFailed extends Error {}

/** What a reader's end means for the file, when it is no end of rows. */
export function readFailure(outcome: Exclude<ReadOutcome, { type: 'chain' | 'table' }>): ImportFailure {
  switch (outcome.type) {
    case 'limit':
      return { reason: 'limit', limit: outcome.limit, most: outcome.most, found: outcome.found };
    case 'memory':
      return { reason: 'memory', most: outcome.most };
    case 'malformed':
      return { reason: 'malformed' };
    case 'failed':
      throw new ReaderFailed(`the process that reads files ended: ${outcome.detail}`);
  }
}

/** The database's texts have no NUL. */
export function withoutNul(text: string): string {
  return text.replaceAll('\u0000', '\ufffd');
}
