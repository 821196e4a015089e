import type { ImportFailure } from '../services/import-chain.ts';
import { problem } from './problem.ts';

const UNREADABLE = {
  empty: 'The file is empty.',
  binary: 'The file is not text: it holds control characters. Export the chain as CSV.',
  'no-table': 'No columns were found: a header line and cells divided by comma, semicolon, tab or bar are needed.',
  'no-rows': 'The file has a header but no rows.',
  malformed: 'A cell or row is longer than 64 kB; the quotes around a cell are probably not closed.',
} as const;

/** Problem document of a refused import: what is wrong, where, and how to mend it. */
export function importProblem(failure: ImportFailure): Response {
  switch (failure.reason) {
    case 'too-large':
      return problem(413, 'too-large', { detail: `The file is larger than ${failure.limit / 1024 / 1024} MB.` });
    case 'missing-columns':
      return problem(422, 'import-rejected', {
        detail: `No column was found for ${failure.columns.join(', ')}. Map it to a column of the file.`,
        more: { reason: failure.reason, missing: failure.columns },
      });
    case 'bad-rows':
      return problem(422, 'import-rejected', {
        detail: `${failure.isTruncated ? 'At least ' : ''}${failure.problems.length} ${failure.problems.length === 1 ? 'row is' : 'rows are'} wrong, the first in line ${failure.problems[0].line}.`,
        more: { reason: failure.reason, problems: failure.problems, isTruncated: failure.isTruncated },
      });
    default:
      return problem(422, 'import-unreadable', {
        detail: UNREADABLE[failure.reason],
        more: { reason: failure.reason },
      });
  }
}
