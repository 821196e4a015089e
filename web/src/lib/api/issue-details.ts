import type { z } from 'zod';

export interface ProblemDetail {
  /** Path of the field, as in slices[0].strikes */
  path: string;
  message: string;
}

/** Details that are told of one body: more of them help nobody. */
const MOST_DETAILS = 20;
const LONGEST_MESSAGE = 300;

/** Details of failed validation, one per field; the first of many. */
export function issueDetails(error: z.ZodError): ProblemDetail[] {
  return error.issues
    .slice(0, MOST_DETAILS)
    .flatMap((issue) => nearestForm(issue))
    .flatMap(byKey)
    .slice(0, MOST_DETAILS)
    .map((issue) => ({ path: pathText(issue.path), message: shortened(issue.message) }));
}

type Fault = Pick<z.core.$ZodIssue, 'path' | 'message'> & { code?: string; keys?: string[] };

const shortened = (message: string) =>
  message.length > LONGEST_MESSAGE ? `${message.slice(0, LONGEST_MESSAGE)}…` : message;

/** What nobody asked for is named by its own path. */
function byKey(issue: Fault): Fault[] {
  if (issue.code !== 'unrecognized_keys') return [issue];
  return (issue.keys ?? [])
    .slice(0, MOST_DETAILS)
    .map((key) => ({ path: [...issue.path, key], message: 'is not known here; leave it out' }));
}

/** Where several forms are allowed, what is wrong by the one that was meant: that with the fewest faults. */
function nearestForm(issue: z.core.$ZodIssue): Fault[] {
  if (issue.code !== 'invalid_union' || issue.errors.length === 0) return [issue];
  const forms = issue.errors.map((form) =>
    form.flatMap(nearestForm).map((inner) => ({ ...inner, path: [...issue.path, ...inner.path] })),
  );
  return forms.reduce((fewest, form) => (form.length < fewest.length ? form : fewest));
}

function pathText(path: PropertyKey[]): string {
  return path
    .map((part, i) => (typeof part === 'number' ? `[${part}]` : `${i > 0 ? '.' : ''}${String(part)}`))
    .join('')
    .slice(0, LONGEST_MESSAGE);
}
