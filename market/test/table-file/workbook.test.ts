import ExcelJs from 'exceljs';
import { expect, test } from 'vitest';
import { FILE_LIMITS } from '../../src/file-limits/index.ts';
import { fileFormatOf, fileInMemory, readSheets } from '../../src/table-file/index.ts';

async function workbookOf(sheets: Record<string, unknown[][]>): Promise<Buffer> {
  const book = new ExcelJs.Workbook();
  for (const [name, rows] of Object.entries(sheets)) book.addWorksheet(name).addRows(rows);
  return Buffer.from(await book.xlsx.writeBuffer());
}
const read = (bytes: Uint8Array, limits = FILE_LIMITS) => readSheets(fileInMemory(bytes), limits);

test('every sheet is read as text: numbers to the last digit, dates without a zone, empty cells as none', async () => {
  const at = new Date('2031-03-14T14:00:05Z');
  const bytes = await workbookOf({
    Chain: [
      ['strike', 'bid'],
      [82.5, 0.1 + 0.2],
      [null, 1e-7],
    ],
    Notes: [[new Date('2031-03-21T00:00:00Z'), at, true]],
  });
  expect(fileFormatOf(bytes.subarray(0, 64))).toBe('workbook');
  expect(await read(bytes)).toEqual([
    {
      name: 'Chain',
      rows: [
        ['strike', 'bid'],
        ['82.5', '0.30000000000000004'],
        ['', '1e-7'],
      ],
    },
    { name: 'Notes', rows: [['2031-03-21', '2031-03-14 14:00:05', 'true']] },
  ]);
});

test('a workbook that says it unfolds into more than is read is refused before it is unfolded', async () => {
  const bytes = await workbookOf({ A: [[1]] });
  const directory = bytes.indexOf(Buffer.from([0x50, 0x4b, 0x01, 0x02]));
  // Uncompressed size of the first entry in the archive's directory.
  bytes.writeUInt32LE(0x7fffffff, directory + 24);
  await expect(read(bytes)).rejects.toMatchObject({ name: 'LimitExceeded', limit: 'bytes' });
});

test.each([
  ['rows', 3],
  ['columns', 3],
  ['cells', 8],
] as const)('a sheet beyond its limit of %s is refused', async (limit, most) => {
  const rows = Array.from({ length: 4 }, () => [1, 2, 3, 4]);
  const refused = read(await workbookOf({ A: rows }), { ...FILE_LIMITS, [limit]: most });
  await expect(refused).rejects.toMatchObject({ name: 'LimitExceeded', limit, most });
});

test('what only begins as a workbook says so', async () => {
  for (const rest of ['', 'nothing more', '\u0000'.repeat(400)])
    await expect(read(Buffer.from(`PK\u0003\u0004${rest}`))).rejects.toMatchObject({ name: 'Unreadable' });
});
