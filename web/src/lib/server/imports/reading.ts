import { z } from 'zod';
import type {
  ChosenFormat,
  DetectResult,
  ReadChainOptions,
  RowProblem,
  RowProblemCode,
} from '@umwelt/market/chain-file';
import type { FileLimits } from '@umwelt/market/file-limits';
import type { FileFormat, TableProblem } from '@umwelt/market/table-file';
import type { TableKind } from '@umwelt/market/table-format';

/** What a process apart is asked: to look at the first lines of a file, or to read all of it. */
export type ReadTask = { path: string; limits: FileLimits } & (
  | { kind: 'look'; chosen: ChosenFormat }
  | { kind: 'chain'; format: FileFormat; read: ReadChainOptions; mostProblems: number; badRows: 'leave-out' | 'refuse' }
  | { kind: 'table'; table: Exclude<TableKind, 'chains'>; of: string | undefined; zone: string; mostProblems: number }
);

/** Rows with one kind of problem: how many, and the lines of the first. */
export interface ProblemCount {
  code: RowProblemCode;
  field: string;
  rows: number;
  lines: number[];
}

/** What a file is by its first lines. */
export interface Look {
  type: 'look';
  format: FileFormat;
  /** What it seems to hold */
  table: TableKind;
  /** Names of a workbook's sheets */
  sheets: string[];
  detected: DetectResult | { ok: false; reason: 'unreadable'; remedy: string };
}

/** What the process says while it reads, and at its end. Rows go another way, as text for COPY. */
export type ReadMessage =
  | { type: 'progress'; share: number; rows: number }
  | Look
  | { type: 'chain'; rows: number; leftOut: number; problems: RowProblem[]; counts: ProblemCount[] }
  | { type: 'table'; rows: number; problems: TableProblem[]; isTruncated: boolean }
  | { type: 'limit'; limit: keyof FileLimits; most: number; found: number }
  | { type: 'malformed'; detail: string };

/** Only what matters for telling the messages apart is checked: both ends are ours. */
export const readMessage = z.custom<ReadMessage>((value) => z.object({ type: z.string() }).safeParse(value).success);
