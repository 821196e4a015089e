import { readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { RequestEvent } from '@sveltejs/kit';
import { describe, expect, test } from 'vitest';
import { z } from 'zod';
import { ask } from '../src/lib/api/client/ask.ts';
import { ROUTES } from '../src/lib/api/contract/index.ts';
import { defineRoute, routeAddress } from '../src/lib/api/contract/route.ts';
import { ApiTrouble } from '../src/lib/api/client/trouble.ts';
import { FIELD_WORDS } from '../src/lib/api/contract/field-words.ts';
import { measureWords } from '../src/lib/measures/index.ts';
import { fieldsOf, wordsFor } from '../src/lib/server/api/with-words.ts';
import { documentOf } from '../src/lib/server/api/document.ts';
import { type BoundHandler, handle } from '../src/lib/server/api/handle.ts';

/* A route is said once: what serves it, checks, the document, CSV and the client are made of its definition. */

const folder = fileURLToPath(new URL('../src/routes/api/v1', import.meta.url));
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;

test('every method of every route is made of a definition of its address, and every definition is served', async () => {
  const files = (readdirSync(folder, { recursive: true }) as string[]).filter((f) => f.endsWith('+server.ts'));
  const served: string[] = [];
  for (const file of files) {
    const path = `/${dirname(file)}`.replaceAll(/\[(\w+)(=\w+)?\]/g, '{$1}');
    // The document does not describe itself.
    if (path === '/openapi.json') continue;
    const module = (await import(/* @vite-ignore */ join(folder, file))) as Partial<Record<string, BoundHandler>>;
    for (const method of METHODS.filter((m) => m in module)) {
      const route = module[method]?.route;
      expect({ method: route?.method, path: route?.path }, file).toEqual({ method: method.toLowerCase(), path });
      expect(ROUTES, file).toContain(route);
      served.push(`${method} ${path}`);
    }
  }
  expect(served.sort()).toEqual(ROUTES.map((r) => `${r.method.toUpperCase()} ${r.path}`).sort());
});

test('each path names its parameters, and a list is one that is read', () => {
  for (const { path, parameters, rows, method } of ROUTES) {
    const named = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name);
    expect(Object.keys(parameters.shape), path).toEqual(named);
    if (rows) expect(method, path).toBe('get');
  }
});

test('every field of the document has its meaning, and nothing is explained that is not there', () => {
  const fields = fieldsOf(documentOf(ROUTES));
  expect(fields.length).toBeGreaterThan(500);
  expect(fields.filter((f) => !f.schema.description).map((f) => f.path.join('.'))).toEqual([]);
  const used = new Set(fields.map((f) => wordsFor(f.path)?.key));
  expect(Object.keys(FIELD_WORDS).filter((key) => !used.has(key))).toEqual([]);
});

test('a field called after a measure says what the catalogue says, unless its name means more than the measure', () => {
  const fields = fieldsOf(documentOf(ROUTES));
  const said = (path: string) => fields.find((f) => f.path.join('.') === path)?.schema.description;
  expect(said('ChainRow.theta')).toBe(
    'Change of the value in one calendar day, all else unchanged; per unit of underlying',
  );
  expect(said('ChainRow.earlyExercise')).toMatch(/^Part of theory .* 0 of a European option; in price/);
  expect(said('ExpirySurface.riskReversal25')).toMatch(
    /^Volatility of the 25-delta call minus .*; decimal; null of a level/,
  );
  // Prices of anything, places among any past, columns of quotes, objects.
  const wider = ['ask', 'bid', 'forward', 'last', 'mid', 'percentile', 'price', 'rank', 'realized', 'realized30'];
  expect(
    Object.keys(FIELD_WORDS)
      .filter((name) => measureWords(name) !== undefined)
      .sort(),
  ).toEqual(wider);
});

/** A route that exists only here. */
const tide = z.object({ hour: z.number(), height: z.number().meta({ description: 'Above the mean, meters' }) });
const tides = defineRoute({
  method: 'get',
  path: '/harbors/{harbor}/tides',
  summary: 'Tides of a day',
  parameters: z.object({ harbor: z.string().min(2) }),
  query: z.object({ days: z.coerce.number().int().min(1).default(1), moon: z.array(z.string()).default([]) }),
  repeated: ['moon'],
  answer: z.object({ harbor: z.string(), tides: z.array(tide) }),
  rows: (answer) => answer.tides,
});
const serve = handle(tides, ({ parameters: { harbor }, query: { days, moon } }) => ({
  harbor,
  tides: Array.from({ length: 2 * days }, (_, i) => ({ hour: 12 * i, height: moon.length })),
}));
const reach = (path: string, headers: Record<string, string> = {}) => {
  const url = new URL(`http://localhost/api/v1${path}`);
  const harbor = decodeURIComponent(url.pathname.split('/')[4]);
  return serve({ url, params: { harbor }, request: new Request(url, { headers }) } as unknown as RequestEvent);
};

describe('a route that is defined', () => {
  test('is in the document with its parameters, its answer and its CSV', () => {
    const { paths } = documentOf([...ROUTES, tides]);
    const operation = paths?.['/harbors/{harbor}/tides']?.get;
    expect(operation?.summary).toBe('Tides of a day');
    const names = (operation?.parameters ?? []).map((p) => ('name' in p ? `${p.in} ${p.name}` : ''));
    expect(names.sort()).toEqual(['path harbor', 'query days', 'query format', 'query moon']);
    expect(Object.keys(operation?.responses?.['200']?.content ?? {})).toEqual(['application/json', 'text/csv']);
  });

  test('answers what is asked by its schemas, as JSON or CSV, and refuses the rest by name', async () => {
    expect(await (await reach('/harbors/Vel/tides?days=2&moon=new&moon=old')).json()).toEqual({
      harbor: 'Vel',
      tides: [0, 12, 24, 36].map((hour) => ({ hour, height: 2 })),
    });
    for (const answer of [
      await reach('/harbors/Vel/tides?format=csv'),
      await reach('/harbors/Vel/tides', { accept: 'text/csv' }),
    ])
      expect(await answer.text()).toBe('hour,height\n0,0\n12,0\n');
    const refused = await reach('/harbors/Vel/tides?days=none');
    expect(refused.status).toBe(400);
    expect(await refused.json()).toMatchObject({ errors: [{ path: 'days' }] });
    expect((await reach('/harbors/V/tides')).status).toBe(404);
  });

  test('is asked by the client of its definition, which checks the answer and tells trouble in words', async () => {
    const through = (async (address: string) => reach(address.replace('/api/v1', ''))) as typeof fetch;
    const asked = { parameters: { harbor: 'A/B' }, query: { days: 1 }, fetch: through };
    expect(routeAddress(tides.path, { harbor: 'A/B' })).toBe('/api/v1/harbors/A%2FB/tides');
    expect(await ask(tides, asked)).toMatchObject({ harbor: 'A/B', tides: [{ hour: 0 }, { hour: 12 }] });
    const refused = ask(tides, { ...asked, query: { days: 'none' } });
    await expect(refused).rejects.toThrow(/days: /);
    await expect(refused).rejects.toMatchObject({ status: 400, errors: [{ path: 'days' }] });
    const wrong = (() => Promise.resolve(Response.json({ harbor: 1 }))) as unknown as typeof fetch;
    await expect(ask(tides, { ...asked, fetch: wrong })).rejects.toThrow(z.ZodError);
    const away = (() => Promise.reject(new TypeError('failed'))) as unknown as typeof fetch;
    await expect(ask(tides, { ...asked, fetch: away })).rejects.toBeInstanceOf(ApiTrouble);
  });
});
