import { z } from 'zod';
import type { ProblemDetail } from '../issue-details.ts';

/** Problem document of RFC 9457, as far as a page reads it. */
const problemDocument = z.object({
  title: z.string().optional(),
  detail: z.string().optional(),
  errors: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
});

/** Why the API did not answer as it was asked: in words, with the fields that are to be mended where it names them. */
export class ApiTrouble extends Error {
  /** 0 where no answer came */
  readonly status: number;
  readonly errors: readonly ProblemDetail[];
  /** The whole document */
  readonly document: unknown;

  constructor(message: string, o: { status: number; errors?: readonly ProblemDetail[]; document?: unknown }) {
    super(message);
    this.name = 'ApiTrouble';
    this.status = o.status;
    this.errors = o.errors ?? [];
    this.document = o.document;
  }
}

/** What a response that is no answer says. */
export function troubleOf(status: number, document: unknown): ApiTrouble {
  const { detail, title, errors = [] } = problemDocument.safeParse(document).data ?? {};
  const words = detail ?? errors.map((e) => `${e.path}: ${e.message}`).join('; ');
  return new ApiTrouble(words || title || `the server answered ${status}`, { status, errors, document });
}
