import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ExcelJS from 'exceljs';
import { expect, test } from 'vitest';
import { readInstant } from '../../src/lib/ui/read-instant.ts';
import { workbookOf } from '../../src/lib/server/exports/workbook.ts';

const TABLE = {
  name: 'KELPA term [all]',
  header: ['expiry', 'at money %', 'inside', 'note'],
  rows: [
    ['18 Apr', 16.3, 0.98, '=1+1'],
    ['20 Jun', -4.25, null, 'Report; "first"'],
  ],
};

test('a workbook holds the table: numbers as numbers, nothing turned into a formula', async () => {
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load((await workbookOf(TABLE)).buffer as ArrayBuffer);
  const sheet = workbook.worksheets[0];
  expect(sheet.name).toBe('KELPA term  all');
  expect(sheet.getRow(1).values).toEqual([undefined, ...TABLE.header]);
  expect(sheet.getCell('B2').value).toBe(16.3);
  expect(sheet.getCell('D2').value).toBe('=1+1');
  expect(sheet.getCell('D2').formula).toBeUndefined();
  expect(sheet.getCell('C3').value).toBeNull();
});

// LibreOffice is installed for the long runs alone.
test.runIf(process.env.SOAK)(
  'the workbook opens in LibreOffice and says the same',
  async () => {
    const folder = mkdtempSync(join(tmpdir(), 'workbook-'));
    writeFileSync(join(folder, 'table.xlsx'), await workbookOf(TABLE));
    execFileSync('soffice', ['--headless', '--convert-to', 'csv', '--outdir', folder, join(folder, 'table.xlsx')], {
      stdio: 'ignore',
      env: { ...process.env, HOME: folder },
    });
    expect(readFileSync(join(folder, 'table.csv'), 'utf8').trim().split('\n')).toEqual([
      'expiry,at money %,inside,note',
      '18 Apr,16.3,0.98,=1+1',
      '20 Jun,-4.25,,"Report; ""first"""',
    ]);
  },
  120_000,
);

test('a typed date means an instant in the zone and year that is shown', () => {
  const read = (text: string) => readInstant(text, '2031-03-14T14:00:00+01:00');
  expect(read('2031-02-28 11:15')).toBe('2031-02-28T11:15:00+01:00');
  expect(read('28 Feb')).toBe('2031-02-28T23:59:00+01:00');
  expect(read('12 august 2030 9:05')).toBe('2030-08-12T09:05:00+01:00');
  expect(read('-5')).toBe('2031-03-09T23:59:00+01:00');
  for (const wrong of ['', '31 Feb', '2031-13-01', 'soon', '28 Feb 25:00', '12 xyz'])
    expect(read(wrong), wrong).toBeUndefined();
});
