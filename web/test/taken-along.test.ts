import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DuckDBInstance } from '@duckdb/node-api';
import { expect, test } from 'vitest';
import type { ChainRow } from '../src/lib/api/chain-row.ts';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import { measuresRoute } from '../src/lib/api/contract/views.ts';
import { measuredResponse } from '../src/lib/api/measured.ts';
import { CATALOGUE, derivedValue, EXPIRY_MEASURES, expiryFile, measuredOf } from '../src/lib/measures/index.ts';
import { type ExpirySubject, formula } from '../src/lib/measures/measure.ts';
import { timeInput } from '../src/lib/measures/time-input.ts';
import { explain } from '../src/lib/measures/workings.ts';
import { documentOf } from '../src/lib/server/api/document.ts';
import { expiryColumns } from '../src/lib/shell/expiry-columns.ts';
import { volatilityInForce } from '../src/lib/theory/index.ts';
import { csvText } from '../src/lib/ui/csv-text.ts';
import { columnsFile, columnsShown } from '../src/lib/ui/table/table-column.ts';
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

test('a measure that is added to the catalogue stands in table, API, its document, files and Workings', () => {
  const probe = {
    id: 'probe',
    label: 'twice the time',
    shortLabel: '2 T',
    unit: 'years',
    definition: 'Twice the time to expiry.',
    derivation: formula('2 T'),
    source: 'Made up',
    value: ({ expiry }: ExpirySubject) => 2 * expiry.years,
    inputs: (subject: ExpirySubject) => [timeInput(subject)],
  } as const;
  const context = asOfContext.parse({});
  const measures = [...EXPIRY_MEASURES, probe];
  const times = picture.expiries.map((e) => 2 * e.years);
  // The table, and the file of what it shows.
  const columns = expiryColumns({ picture, context }, ['atm', 'probe'], measures);
  const column = columns.find((c) => c.id === 'probe');
  expect(column).toMatchObject({ head: '2 T', label: probe.label, definition: probe.definition, isExtra: false });
  expect(picture.expiries.map((e) => column?.value?.(e))).toEqual(times);
  expect(column?.figure?.(focus)).toBe(`probe~${focus.date}`);
  const shown = columnsFile(columnsShown(columns, ['atm', 'probe']), picture.expiries, { symbol: 'X' });
  expect(shown.header).toEqual(['symbol', 'expiry', 'atm', 'probe']);
  expect(shown.rows.map((row) => row[3])).toEqual(times);
  // The file of all.
  const { header, rows: file } = expiryFile({ picture, context }, picture.expiries, measures);
  expect(header.slice(5)).toEqual([...EXPIRY_MEASURES.map((m) => m.id), 'probe']);
  expect(file.map((row) => row.at(-1))).toEqual(times);
  expect(file.map((row) => row[header.indexOf('atm')])).toEqual(picture.expiries.map((e) => e.atm));
  // The API: its answer, its CSV, its document.
  const catalogue = { ...CATALOGUE, expiry: measures };
  const answer = { symbol: 'X', asOf: picture.asOf, ...measuredOf({ picture, context }, catalogue) };
  expect(measuredResponse.parse(answer).expiries.map((e) => e.values.probe)).toEqual(times);
  const asRows = measuresRoute.rows?.(answer) as Record<string, unknown>[];
  expect(asRows.map((row) => row.probe)).toEqual(times);
  const properties = (document: unknown) => {
    const { components } = document as { components: { schemas: Record<string, { properties: object }> } };
    return components.schemas.ExpiryMeasures.properties;
  };
  expect(properties(documentOf([measuresRoute], catalogue))).toMatchObject({
    probe: { description: 'Twice the time to expiry; years' },
  });
  expect(Object.keys(properties(documentOf([measuresRoute])))).toEqual(EXPIRY_MEASURES.map((m) => m.id));
  // Workings.
  const subject = { picture, context, expiry: focus };
  expect(explain(probe, subject, 'probe', '')).toMatchObject({ formula: '2 T', value: 2 * focus.years });
  expect(derivedValue(probe.derivation, probe.inputs(subject))?.value).toBe(2 * focus.years);
});
