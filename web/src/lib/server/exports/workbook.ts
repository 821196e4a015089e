import ExcelJS from 'exceljs';
import type { ShownTableRequest } from '../../api/shown-table.ts';

/** A table as a workbook (Office Open XML) of one sheet: numbers as numbers, the header bold and held in place. */
export async function workbookOf({ name, header, rows }: ShownTableRequest): Promise<Uint8Array> {
  const workbook = new ExcelJS.Workbook();
  // A sheet's name has at most 31 letters and none of these.
  const sheet = workbook.addWorksheet(name.replace(/[*?:\\/[\]]/g, ' ').slice(0, 31), {
    views: [{ state: 'frozen', ySplit: 1 }],
  });
  sheet.addRow(header).font = { bold: true };
  for (const row of rows) sheet.addRow(row);
  return new Uint8Array(await workbook.xlsx.writeBuffer());
}
