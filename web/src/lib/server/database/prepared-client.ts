import { createHash } from 'node:crypto';
import pg from 'pg';

/** Statements that a connection keeps prepared; what is asked beyond them is planned each time. */
const MOST_STATEMENTS = 500;
const names = new Map<string, string>();

/** Name of a statement, the same for the same text. */
function nameOf(text: string): string | undefined {
  const known = names.get(text);
  if (known !== undefined || names.size >= MOST_STATEMENTS) return known;
  const name = createHash('sha256').update(text).digest('base64url').slice(0, 32);
  names.set(text, name);
  return name;
}

/**
 * A connection that keeps what it is asked with values prepared, so that the database reads and plans it once: planning over the
 * months' tables of slices takes as long as reading them.
 */
export class PreparedClient extends pg.Client {
  override query(config: unknown, values?: unknown, done?: unknown): never {
    return super.query(prepared(config, values) as never, values as never, done as never) as never;
  }
}

function prepared(config: unknown, values: unknown): unknown {
  const asked = typeof config === 'string' ? { text: config } : config;
  if (!Array.isArray(values) || values.length === 0 || !isPlain(asked)) return config;
  return { ...asked, name: asked.name ?? nameOf(asked.text) };
}

/** A statement by its text, not one with a course of its own, such as a COPY. */
function isPlain(config: unknown): config is { text: string; name?: string } {
  return typeof config === 'object' && config !== null && !('submit' in config) && 'text' in config;
}
