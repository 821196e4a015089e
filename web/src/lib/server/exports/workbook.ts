import ExcelJS from 'exceljs';
import type { ShownTableRequest } from '../../api/shown-table.ts';

/** A sheet's name has at most 31 letters, none of these, no apostrophe at an end, is not empty, and not that of the format's own sheet. */
const sheetName = (name: string) =>
  name
    .replace(/[*?:\\/[\]]/g, ' ')
    .slice(0, 31)
    .replace(/^['\s]+|['\s]+$/g, '')
    .replace(/^(history)?$/i, 'table');

/** A table as a workbook (Office Open XML) of one sheet: numbers as numbers, the header bold and held in place. */
export async function workbookOf({ name, header, rows }: ShownTableRequest): Promise<Uint8Array> {
  const workbook = new ExcelJS.Workbook();
  const sheet = workbook.addWorksheet(sheetName(name), { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.addRow(header).font = { bold: true };
  for (const row of rows) sheet.addRow(row);
  return new Uint8Array(await workbook.xlsx.writeBuffer());
}
