import type { z } from 'zod';

export interface ProblemDetail {
  /** Path of the field, as in slices[0].strikes */
  path: string;
  message: string;
}

/** Details of failed validation, one per field. */
export function issueDetails(error: z.ZodError): ProblemDetail[] {
  return error.issues.slice(0, 100).map((issue) => ({ path: pathText(issue.path), message: issue.message }));
}

function pathText(path: PropertyKey[]): string {
  return path
    .map((part, i) => (typeof part === 'number' ? `[${part}]` : `${i > 0 ? '.' : ''}${String(part)}`))
    .join('');
}
