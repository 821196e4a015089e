import type { ImportFailure } from '../imports/import-failure.ts';
import type { ReceiveResult } from '../imports/spool.ts';
import { problem } from './problem.ts';

const UNREADABLE = {
  empty: 'The file is empty.',
  binary:
    'The file is neither text nor JSON, a workbook (xlsx) or Parquet: it holds control characters. Export the chain as CSV.',
  'no-table':
    'No columns were found: a header line and cells divided by comma, semicolon, tab or bar are needed, or a sheet, JSON or Parquet with such columns.',
  'no-rows': 'The file has a header but no rows.',
  malformed: 'A cell or row is longer than 64 kB; the quotes around a cell are probably not closed.',
} as const;

/** Problem document of a refused import: what is wrong, where, and how to mend it. */
export function importProblem(failure: ImportFailure): Response {
  switch (failure.reason) {
    case 'too-large':
      return problem(413, 'too-large', { detail: `The file is larger than ${megabytes(failure.limit)}.` });
    case 'limit': {
      const { limit, most, found } = failure;
      const amount = (n: number) => (limit === 'bytes' ? megabytes(n) : `${n.toLocaleString('en-US')} ${limit}`);
      return problem(413, 'too-large', {
        detail: `The file holds ${amount(found)} once unfolded, at most ${amount(most)} are read. Split it into several files.`,
        more: { reason: 'limit', limit, most, found },
      });
    }
    case 'memory':
      return problem(413, 'too-large', {
        detail: `Reading the file takes more than ${megabytes(failure.most)} of memory. Send it as CSV, or split it.`,
        more: { reason: 'memory', most: failure.most },
      });
    case 'span':
      return problem(422, 'import-rejected', {
        detail: `The instants of the file span ${failure.years.toFixed(0)} years, at most ${failure.most} are read. Mend the dates, or split the file.`,
        more: { reason: 'span' },
      });
    case 'missing-columns':
      return problem(422, 'import-rejected', {
        detail: `No column was found for ${failure.columns.join(', ')}. Map it to a column of the file.`,
        more: { reason: failure.reason, missing: failure.columns },
      });
    case 'unreadable':
      return problem(422, 'import-unreadable', {
        detail: `The file is ${failure.remedy}.`,
        more: { reason: failure.reason },
      });
    case 'no-price':
      return problem(422, 'import-rejected', {
        detail: `The price of ${failure.symbol} is not in the file, and too few strikes have call and put for parity to imply it. Type it in.`,
        more: { reason: failure.reason, symbol: failure.symbol },
      });
    case 'bad-rows':
      return problem(422, 'import-rejected', {
        detail:
          failure.problems[0].line === 0
            ? `The file is ${failure.problems[0].remedy}.`
            : `${failure.isTruncated ? 'At least ' : ''}${failure.problems.length} ${failure.problems.length === 1 ? 'row is' : 'rows are'} wrong, the first in line ${failure.problems[0].line}.`,
        more: { reason: failure.reason, problems: failure.problems, isTruncated: failure.isTruncated },
      });
    case 'empty':
    case 'binary':
    case 'no-table':
    case 'no-rows':
    case 'malformed':
      return problem(422, 'import-unreadable', {
        detail: UNREADABLE[failure.reason],
        more: { reason: failure.reason },
      });
  }
}

const megabytes = (bytes: number) => `${Math.ceil(bytes / 1024 / 1024)} MB`;

/** Problem document of a body that did not arrive whole. */
export function receiveProblem(result: Extract<ReceiveResult, { ok: false }>): Response {
  switch (result.reason) {
    case 'too-large':
      return problem(413, 'too-large', { detail: `The file is larger than ${megabytes(result.limit)}.` });
    case 'no-room':
      return problem(503, 'busy', {
        detail: `Other uploads take all of the ${megabytes(result.limit)} that are kept for them. Try again when they are done.`,
      });
    case 'idle':
      return problem(408, 'timed-out', {
        detail: `Nothing came for ${result.seconds} s. Nothing was stored; send the file again.`,
      });
  }
}
