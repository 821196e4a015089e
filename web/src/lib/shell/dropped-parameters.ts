import { z } from 'zod';
import { asOfContext } from '../api/as-of-context.ts';
import { MOST_CONTRACTS, MOST_LEGS, readLegs } from '../api/picked-legs.ts';
import type { ContextNote } from './context-notes.ts';

/** Of instant and expiries the notes of the context say more. */
const SAID_ELSEWHERE: ReadonlySet<string> = new Set(['asOf', 'expiry', 'expiries', 'tenor']);

/**
 * What of an address is not taken, since it is malformed or out of its range: each with the reason.
 * @param own schema of the view's own parameters
 */
export function droppedParameters(own: z.ZodObject, parameters: URLSearchParams): ContextNote[] {
  const shape: Record<string, z.core.$ZodType> = { ...asOfContext.shape, ...own.shape };
  const notes: ContextNote[] = [];
  for (const [parameter, text] of parameters) {
    const schema = shape[parameter];
    if (!schema || SAID_ELSEWHERE.has(parameter)) continue;
    const strict = schema instanceof z.ZodCatch ? schema.unwrap() : schema;
    const read = z.safeParse(strict, text);
    if (!read.success)
      notes.push({ parameter, text: `“${parameter}=${brief(text)}” is left out: ${reasonOf(read.error.issues[0])}.` });
  }
  const { dropped } = readLegs(parameters.get('legs') ?? '');
  if (dropped.length > 0)
    notes.push({
      parameter: 'legs',
      text: `${dropped.length === 1 ? 'A leg is' : `${dropped.length} legs are`} left out: “${brief(dropped.join(', '))}”. A leg has 1 to ${MOST_CONTRACTS} contracts, a structure at most ${MOST_LEGS} legs.`,
    });
  return notes;
}

function reasonOf(issue: z.core.$ZodIssue): string {
  switch (issue.code) {
    case 'too_big':
      return issue.origin === 'number' ? `at most ${String(issue.maximum).replace('-', '−')}` : 'too long';
    case 'too_small':
      return `${issue.inclusive ? 'at least' : 'above'} ${String(issue.minimum).replace('-', '−')}`;
    case 'invalid_value':
      return `one of ${issue.values.map(String).join(', ')}`;
    case 'invalid_type':
      return `${issue.expected === 'int' ? 'a whole number' : `a ${issue.expected}`} is needed`;
    default:
      return 'it is none of what can be asked for';
  }
}

function brief(text: string): string {
  return text.length > 60 ? `${text.slice(0, 60)}…` : text;
}
