import { z } from 'zod';
import type { ReadChainOptions, RowProblem } from '@umwelt/market/chain-file';
import type { FileLimits } from '@umwelt/market/file-limits';
import type { TableProblem } from '@umwelt/market/table-file';
import type { TableFormat, TableKind } from '@umwelt/market/table-format';

/** What a process apart is asked to read. */
export type ReadTask = { path: string; limits: FileLimits } & (
  | {
      kind: 'chain';
      format: TableFormat;
      read: ReadChainOptions;
      mostProblems: number;
      /** No rows are written */ isPreview: boolean;
    }
  | { kind: 'table'; table: Exclude<TableKind, 'chains'>; of: string | undefined; zone: string; mostProblems: number }
);

/** Problems of one kind: how many rows have it, and the first of them. */
export interface ProblemCount {
  code: string;
  rows: number;
}

/** What the process says while it reads, and at its end. Rows go another way, as text for COPY. */
export type ReadMessage =
  | { type: 'progress'; share: number; rows: number }
  | {
      type: 'chain';
      rows: number;
      problems: RowProblem[];
      counts: ProblemCount[];
      isTruncated: boolean;
      symbols: string[];
    }
  | { type: 'table'; rows: number; problems: TableProblem[]; isTruncated: boolean }
  | { type: 'limit'; limit: keyof FileLimits; most: number; found: number }
  | { type: 'malformed'; detail: string };

/** Only what matters for telling the messages apart is checked: both ends are ours. */
export const readMessage = z.custom<ReadMessage>((value) => z.object({ type: z.string() }).safeParse(value).success);
