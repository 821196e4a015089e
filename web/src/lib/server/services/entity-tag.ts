import { createHash } from 'node:crypto';

/** Entity tag of what may be changed (RFC 9110, 8.8.3). */
export function entityTag(changeable: unknown): string {
  return `"${createHash('sha256').update(JSON.stringify(changeable)).digest('base64url').slice(0, 22)}"`;
}
