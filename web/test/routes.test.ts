import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';
import { openApiDocument } from '../src/lib/server/http/openapi.ts';

/* Routes and their document are of one mind: none without words, no words without a route, no promised CSV that is never made. */

const routes = fileURLToPath(new URL('../src/routes/api/v1', import.meta.url));

/** Every route by its address, with the text that serves it. */
function served(): Map<string, string> {
  const files = (readdirSync(routes, { recursive: true }) as string[]).filter((f) => f.endsWith('+server.ts'));
  return new Map(
    files.map((file) => {
      const path = `/${dirname(file)}`.replaceAll(/\[(\w+)(=\w+)?\]/g, '{$1}');
      return [path, readFileSync(join(routes, file), 'utf8')];
    }),
  );
}
const METHODS = ['get', 'post', 'put', 'patch', 'delete'] as const;
const methodsOf = (text: string) =>
  METHODS.filter((m) => new RegExp(`export (const|async function|function) ${m.toUpperCase()}\\b`).test(text));

const documented = openApiDocument().paths ?? {};

test('every method of every route is in the document, and nothing else is', () => {
  const ours = [...served()].flatMap(([path, text]) => methodsOf(text).map((method) => `${method} ${path}`));
  const theirs = Object.entries(documented).flatMap(([path, item]) =>
    METHODS.filter((method) => method in item).map((method) => `${method} ${path}`),
  );
  expect(ours.length).toBeGreaterThan(40);
  // The document does not describe itself.
  expect(theirs.sort()).toEqual(ours.filter((o) => o !== 'get /openapi.json').sort());
});

test('CSV is promised where a route makes it, and nowhere else', () => {
  for (const [path, text] of served()) {
    const read = documented[path]?.get;
    if (!read || path.startsWith('/exports/')) continue;
    const promises = 'text/csv' in (read.responses?.['200']?.content ?? {});
    const asks = (read.parameters ?? []).some((p) => 'name' in p && p.name === 'format');
    expect({ path, promises, asks }).toEqual({ path, promises: text.includes('listResponse'), asks: promises });
  }
});
