import { FILE_LIMITS, type FileLimits } from '@umwelt/market/file-limits';
import type { RowProblem } from '@umwelt/market/chain-file';
import { type ImportOptions, MOST_STRIKES } from '../../api/chain-import.ts';
import type { Database, Session } from '../database/connect.ts';
import { headerKey, rememberedMapping } from '../repositories/imports.ts';
import * as staging from '../repositories/chain-staging.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { importOptions } from '../../api/chain-import.ts';
import { ReaderFailed, readFailure, Rejected } from './import-failure.ts';
import { type ChainPlan, firstSymbol, planChain } from './plan-chain.ts';
import { copyRead, ReaderProcess } from './read-apart.ts';
import type { Look, ProblemCount } from './reading.ts';
import type { SpooledFile } from './spool.ts';

type Sql = Session['sql'];

/** Bad rows listed before reading stops: more tell nothing new. */
export const MAX_PROBLEMS = 1000;
/** A file holds at most so many years: each month of it is a table. */
const MOST_YEARS = 30;
const YEAR = 365.25 * 86_400_000;

/** Files of one chain with how they are to be read. */
export interface StageInput {
  owner: string;
  /** More than one where calls and puts, say, come in files of their own */
  files: readonly SpooledFile[];
  fileName: string;
  /** Undefined on the first look, when what is remembered counts */
  options: ImportOptions | undefined;
  signal?: AbortSignal;
  limits?: FileLimits;
  /** The first file as it has been looked at already */
  opened?: { reader: ReaderProcess; look: Look };
}

/** What was read of the files into the staging table. */
export interface StagedChain {
  look: Look;
  plan: ChainPlan;
  /** Null where columns are missing, so that nothing could be read */
  read: {
    rows: number;
    leftOut: number;
    problems: RowProblem[];
    counts: ProblemCount[];
    extent: Awaited<ReturnType<typeof staging.stagedExtent>> | undefined;
  } | null;
}

/**
 * Reads the rows of files in processes apart into a table of the connection alone, where the database gathers them, so that
 * memory does not grow with the file. Rows that cannot be read are counted.
 * @throws Rejected for what no choice of columns can mend
 */
export async function stageChain(session: Session, o: StageInput): Promise<StagedChain> {
  const { sql } = session;
  await staging.createStaging(sql);
  const parts: StagedChain[] = [];
  for (const [i, file] of o.files.entries()) parts.push(await stageFile(session, o, file, i));
  const [first] = parts;
  const reads = parts.flatMap((part) => part.read ?? []);
  if (reads.length < parts.length)
    return { ...first, plan: parts.find((p) => !p.read)?.plan ?? first.plan, read: null };
  const read = {
    rows: sum(reads.map((r) => r.rows)),
    leftOut: sum(reads.map((r) => r.leftOut)),
    problems: reads.flatMap((r) => r.problems),
    counts: reads.flatMap((r) => r.counts),
    extent: undefined as Awaited<ReturnType<typeof staging.stagedExtent>> | undefined,
  };
  await checkArrived(sql, read, o.options?.badRows);
  const isRefused = () => o.options?.badRows === 'refuse' && read.problems.length > 0;
  if (read.rows > 0 && !isRefused()) {
    await takeDuplicates(sql, read, o.options?.badRows);
    if (isRefused()) return { ...first, read };
    read.extent = await staging.stagedExtent(sql);
    checkExtent(read.extent);
  }
  return { ...first, read };
}

const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);

async function stageFile(session: Session, o: StageInput, file: SpooledFile, index: number): Promise<StagedChain> {
  const { database } = session;
  const { signal, limits = FILE_LIMITS, options } = o;
  const fileName = index === 0 ? o.fileName : (file.name ?? o.fileName);
  const opened = index === 0 ? o.opened : undefined;
  const reader = opened?.reader ?? readerOf(file, signal);
  try {
    const { encoding, delimiter, headerLine, sheet } = options?.format ?? {};
    const look = opened?.look ?? (await reader.look(file.path, { encoding, delimiter, headerLine, sheet }));
    signal?.throwIfAborted();
    if (look.type === 'chain' || look.type === 'table') throw new ReaderFailed('a look ended as a reading');
    if (look.type !== 'look') throw new Rejected(readFailure(look));
    const { detected } = look;
    if (!detected.ok) throw new Rejected(detected);
    const symbol = firstSymbol(detected, fileName);
    const stored = symbol === undefined ? undefined : await findUnderlying(database, symbol);
    const remembered = options ? undefined : await recall(database, o.owner, detected.headers);
    const own = index === 0 || !options ? options : { ...options, typed: { ...options.typed, side: undefined } };
    const plan = planChain({ detected, fileName, options: own, remembered, stored });
    if (plan.missing.length > 0) return { look, plan, read: null };
    const reading = reader.read({
      kind: 'chain',
      path: file.path,
      limits,
      format: look.format,
      read: plan.read,
      mostProblems: MAX_PROBLEMS,
      badRows: options?.badRows ?? 'leave-out',
    });
    const copy = await staging.copyStaged(session);
    try {
      const end = await copyRead(reading, copy, signal);
      if (end.type === 'table') throw new ReaderFailed('a table came where a chain was read');
      if (end.type !== 'chain') throw new Rejected(readFailure(end));
      await copy.end();
      return { look, plan, read: { ...end, extent: undefined } };
    } catch (error) {
      reading.rows.destroy();
      await copy.abort(error instanceof Error ? error : new Error('interrupted'));
      throw error;
    }
  } finally {
    reader.end();
  }
}

/** A process that reads a file and says how far it is. */
export function readerOf(file: SpooledFile, signal: AbortSignal | undefined): ReaderProcess {
  return new ReaderProcess({
    signal,
    onprogress: (share, rows) => (file.progress = { stage: 'reading', share, rows }),
  });
}

async function recall(database: Database, owner: string, headers: string[]): Promise<ImportOptions | undefined> {
  const parsed = importOptions.safeParse(await rememberedMapping(database, owner, headerKey(headers)));
  return parsed.success ? parsed.data : undefined;
}

/** Every row that the readers counted must be there: one that was lost on its way would be missed by nobody. */
async function checkArrived(
  sql: Sql,
  read: NonNullable<StagedChain['read']>,
  badRows: ImportOptions['badRows'] = 'leave-out',
): Promise<void> {
  if (badRows === 'refuse' && read.problems.length > 0) return;
  const arrived = await staging.stagedCount(sql);
  if (arrived !== read.rows) throw new ReaderFailed(`${read.rows} rows were read and ${arrived} arrived`);
}

/** Rows that quote a contract twice are left out after the first, unless the whole file is to be refused for them. */
async function takeDuplicates(
  sql: Sql,
  read: NonNullable<StagedChain['read']>,
  badRows: ImportOptions['badRows'] = 'leave-out',
): Promise<void> {
  const duplicates = await staging.duplicateRows(sql, MAX_PROBLEMS);
  if (duplicates.count === 0) return;
  const problems = duplicates.first.map((d): RowProblem => ({
    line: d.line,
    field: 'row',
    value: String(d.strike),
    code: 'duplicate',
    remedy: `the same contract and instant as line ${d.firstLine}; keep one of them`,
  }));
  read.problems = [...read.problems, ...problems].slice(0, MAX_PROBLEMS);
  read.counts.push({
    code: 'duplicate',
    field: 'row',
    rows: duplicates.count,
    lines: problems.slice(0, 20).map((p) => p.line),
  });
  read.leftOut += duplicates.count;
  read.rows -= duplicates.count;
  if (badRows === 'leave-out') await staging.dropDuplicates(sql);
}

function checkExtent({ first, last, largest }: Awaited<ReturnType<typeof staging.stagedExtent>>): void {
  const years = (last.getTime() - first.getTime()) / YEAR;
  if (years > MOST_YEARS) throw new Rejected({ reason: 'span', years, most: MOST_YEARS });
  if (largest.strikes <= MOST_STRIKES) return;
  const remedy = `${largest.strikes} strikes of one expiry at one instant, at most ${MOST_STRIKES}; leave some out or split the file`;
  const problem: RowProblem = { line: largest.line, field: 'strike', value: largest.symbol, code: 'bad-cell', remedy };
  throw new Rejected({ reason: 'bad-rows', problems: [problem], isTruncated: false });
}
