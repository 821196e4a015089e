import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { moveOf } from '../src/lib/ui/table/cell-moves.ts';
import { clipText, columnsFile, columnsShown, type TableColumn } from '../src/lib/ui/table/table-column.ts';
import { numberText } from '../src/lib/ui/format.ts';

/* What leaves a table is its values; what is copied is its texts, as other programs read them. */

interface Row {
  name: string;
  value: number | null;
}
const COLUMNS: TableColumn<Row>[] = [
  { id: 'name', head: 'name', isFixed: true, value: (row) => row.name, text: (row) => row.name },
  { id: 'value', head: 'value', value: (row) => row.value, text: (row) => numberText(row.value, 3) },
  {
    id: 'twice',
    head: '2 x',
    value: (row) => (row.value === null ? undefined : 2 * row.value),
    text: () => 'no matter',
  },
  { id: 'picture', head: '', text: () => '' },
];
const row = fc.record({
  name: fc.string(),
  value: fc.option(fc.double({ min: -1e9, max: 1e9, noNaN: true })),
});

describe('a file of columns', () => {
  test('holds every digit of those that are worth something, in their order, after what is the same of all', () => {
    fc.assert(
      fc.property(fc.array(row), fc.subarray(['value', 'twice', 'picture'], { minLength: 1 }), (rows, chosen) => {
        const shown = columnsShown(COLUMNS, chosen);
        expect(shown.map((c) => c.id)).toEqual(['name', ...chosen]);
        const { header, rows: file } = columnsFile(shown, rows, { symbol: 'X' });
        expect(header).toEqual(['symbol', 'name', ...chosen.filter((id) => id !== 'picture')]);
        file.forEach((cells, i) => {
          expect(cells).toHaveLength(header.length);
          const { value } = rows[i];
          if (chosen.includes('value')) expect(cells[header.indexOf('value')]).toBe(value);
          if (chosen.includes('twice')) expect(cells[header.indexOf('twice')]).toBe(value === null ? null : 2 * value);
        });
      }),
    );
  });

  test('knows no column that is gone', () => {
    expect(columnsShown(COLUMNS, ['gone', 'value']).map((c) => c.id)).toEqual(['name', 'value']);
  });
});

test('what is copied has a line a row, a tab between cells and none within, and numbers that are numbers', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.string(), fc.double({ min: -1e9, max: 1e9, noNaN: true })), { minLength: 1 }),
      (rows) => {
        const lines = clipText(rows.map(([name, value]) => [name, numberText(value, 3)])).split('\n');
        expect(lines).toHaveLength(rows.length);
        lines.forEach((line, i) => {
          const cells = line.split('\t');
          expect(cells).toHaveLength(2);
          expect(Math.abs(Number(cells[1]) - rows[i][1])).toBeLessThanOrEqual(0.0005 + 1e-6);
        });
      },
    ),
  );
});

test('keys lead where they say, and nothing else moves', () => {
  const size = { rows: 50, columns: 7, page: 20 };
  const move = (key: string, ctrlKey = false) => moveOf({ key, ctrlKey, metaKey: false }, size);
  expect(move('ArrowUp')).toEqual({ rows: -1, columns: 0 });
  expect(move('ArrowRight')).toEqual({ rows: 0, columns: 1 });
  expect(move('PageDown')).toEqual({ rows: 20, columns: 0 });
  expect(move('Home')).toEqual({ rows: 0, columns: -7 });
  expect(move('End', true)).toEqual({ rows: 50, columns: 7 });
  expect(move('ArrowDown', true)).toEqual({ rows: 50, columns: 0 });
  for (const key of ['a', 'Tab', '[', 'Enter', 'Escape']) expect(move(key)).toBeUndefined();
});
