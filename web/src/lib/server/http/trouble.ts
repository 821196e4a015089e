import { TooBusy } from '../derive/fair-turns.ts';
import type { ProblemType } from './problem.ts';

/** What went wrong, in words for who asked: which status, which kind, and what to do. */
export interface Trouble {
  status: number;
  type: ProblemType;
  detail: string;
}

const AWAY =
  'The database is away. It is started again by itself where ./start runs it; elsewhere see to it that it runs. Try again in a moment.';
const LONG =
  'The database took longer than this may take, and was told to stop. Take less of it at a time, or try again when less is going on.';
const FULL =
  'The disk is full. Nothing was stored. Make room on the disk of the database or of the uploads, then try again.';
const READ_ONLY =
  'The database or its disk is read-only, so that nothing can be stored. See why (a replica, or a disk that reported errors), then try again.';
const NO_PERMISSION =
  'The application may not write where it must. Give the folder of its data to the user who started it, or start it as the one who owns it.';

/** Codes of PostgreSQL (its documentation, appendix A), of the driver and of the system. */
const BY_CODE: Record<string, Trouble> = {
  '53100': { status: 507, type: 'no-space', detail: FULL },
  ENOSPC: { status: 507, type: 'no-space', detail: FULL },
  EDQUOT: { status: 507, type: 'no-space', detail: FULL },
  '25006': { status: 503, type: 'read-only', detail: READ_ONLY },
  EROFS: { status: 503, type: 'read-only', detail: READ_ONLY },
  '42501': { status: 503, type: 'no-permission', detail: NO_PERMISSION },
  EACCES: { status: 503, type: 'no-permission', detail: NO_PERMISSION },
  EPERM: { status: 503, type: 'no-permission', detail: NO_PERMISSION },
  // A text with NUL came in where no rule of its own refused it.
  '22021': { status: 400, type: 'invalid-request', detail: 'A text holds a NUL character, which no text here has.' },
  // A statement that ran into its limit.
  '57014': { status: 504, type: 'timed-out', detail: LONG },
  '57P01': { status: 503, type: 'database-away', detail: AWAY },
  '57P02': { status: 503, type: 'database-away', detail: AWAY },
  '57P03': { status: 503, type: 'database-away', detail: AWAY },
  '53300': { status: 503, type: 'database-away', detail: AWAY },
  '08006': { status: 503, type: 'database-away', detail: AWAY },
  ECONNREFUSED: { status: 503, type: 'database-away', detail: AWAY },
  ECONNRESET: { status: 503, type: 'database-away', detail: AWAY },
  EPIPE: { status: 503, type: 'database-away', detail: AWAY },
  ETIMEDOUT: { status: 503, type: 'database-away', detail: AWAY },
};

/** What the driver says without a code. */
const BY_WORDS: [RegExp, Trouble][] = [
  [
    /^(Connection terminated|Client has encountered a connection error|Client was closed|timeout exceeded when trying to connect|timeout expired|Connection ended|Cannot use a pool after)/,
    { status: 503, type: 'database-away', detail: AWAY },
  ],
  [/^Query read timeout$/, { status: 504, type: 'timed-out', detail: LONG }],
];

/** What an error means for who asked; undefined for one that only the log can explain. */
export function troubleOf(error: unknown): Trouble | undefined {
  for (let cause = error, depth = 0; cause instanceof Error && depth < 8; cause = cause.cause, depth++) {
    if (cause instanceof TooBusy)
      return { status: 503, type: 'busy', detail: 'Too much is being computed already. Try again in a moment.' };
    const { code } = cause as { code?: unknown };
    const known = typeof code === 'string' ? BY_CODE[code] : undefined;
    if (known) return known;
    const said = BY_WORDS.find(([words]) => words.test(cause.message));
    if (said) return said[1];
  }
  return undefined;
}
