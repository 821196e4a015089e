import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DuckDBInstance } from '@duckdb/node-api';
import { expect, test } from 'vitest';
import type { ChainRow } from '../src/lib/api/chain-row.ts';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import { derivedValue, EXPIRY_MEASURES, expiryFile } from '../src/lib/measures/index.ts';
import { type ExpirySubject, formula } from '../src/lib/measures/measure.ts';
import { timeInput } from '../src/lib/measures/time-input.ts';
import { explain } from '../src/lib/measures/workings.ts';
import { volatilityInForce } from '../src/lib/theory/index.ts';
import { csvText } from '../src/lib/ui/csv-text.ts';
import { CHAIN_COLUMNS } from '../src/lib/views/chain/chain-columns.ts';
import { ladderFile } from '../src/lib/views/chain/ladder-file.ts';
import { chainOf } from './chain-of.ts';
import { madePicture } from './made-picture.ts';

const picture = madePicture({ symbol: '=FJ,"RD' });
const [, focus] = picture.expiries;
const inForce = volatilityInForce(picture, { volatilitySource: 'smile', typedVolatility: undefined });
const rows = chainOf(focus, { inForce, sides: 'both' });

test('a ladder read again by a database holds every value of the API to the last digit, and what it is of', async () => {
  const table = ladderFile(
    picture,
    focus,
    rows,
    CHAIN_COLUMNS.map((c) => c.id),
  );
  const folder = mkdtempSync(join(tmpdir(), 'ladder-'));
  const connection = await (await DuckDBInstance.create()).connect();
  try {
    const file = join(folder, 'ladder.csv');
    writeFileSync(file, csvText(table));
    const reader = await connection.runAndReadAll(
      'select *, epoch_ms("asOf") as millis from read_csv($1, header = true)',
      [file],
    );
    const again = reader.getRowObjectsJson();
    expect(again).toHaveLength(rows.length);
    let compared = 0;
    again.forEach((read, i) => {
      expect(read).toMatchObject({ multiplier: '10', currency: 'XTS', expiry: focus.date });
      // An instant as such, and a text that a spreadsheet must not take for a formula.
      expect(Number(read.millis)).toBe(Date.parse(picture.asOf));
      expect(read.symbol).toContain('=FJ,"RD');
      for (const field of table.header.slice(5) as (keyof ChainRow)[]) {
        const [found, value] = [read[field] ?? null, rows[i][field]];
        expect(typeof value === 'number' ? Number(found) : found, `${i} ${field}`).toBe(value);
        if (typeof value === 'number') compared++;
      }
    });
    expect(compared).toBeGreaterThan(18 * rows.length);
  } finally {
    connection.closeSync();
    rmSync(folder, { recursive: true });
  }
});

test('columns that are not shown are left out, but for the quote and how theory came about', () => {
  const { header } = ladderFile(picture, focus, rows, ['gamma', 'standing']);
  expect(header).toContain('gamma');
  expect(header).toContain('gapVolatility');
  expect(header).toContain('openInterest');
  expect(header).not.toContain('theta');
  expect(new Set(header).size).toBe(header.length);
});

test('a measure that is added to the catalogue stands in the file of expiries', () => {
  const probe = {
    id: 'probe',
    label: 'probe',
    unit: 'factor',
    definition: 'Twice the time to expiry.',
    derivation: formula('2 T'),
    source: 'Made up',
    value: ({ expiry }: ExpirySubject) => 2 * expiry.years,
    inputs: (subject: ExpirySubject) => [timeInput(subject)],
  } as const;
  const context = asOfContext.parse({});
  const { header, rows: file } = expiryFile({ picture, context }, picture.expiries, [...EXPIRY_MEASURES, probe]);
  expect(header).toEqual([
    'symbol',
    'currency',
    'asOf',
    'expiry',
    'days',
    ...EXPIRY_MEASURES.map((m) => m.id),
    'probe',
  ]);
  expect(file.map((row) => row.at(-1))).toEqual(picture.expiries.map((e) => 2 * e.years));
  expect(file.map((row) => row[header.indexOf('atm')])).toEqual(picture.expiries.map((e) => e.atm));
  const subject = { picture, context, expiry: focus };
  expect(explain(probe, subject, 'probe', '')).toMatchObject({ formula: '2 T', value: 2 * focus.years });
  expect(derivedValue(probe.derivation, probe.inputs(subject))?.value).toBe(2 * focus.years);
});
