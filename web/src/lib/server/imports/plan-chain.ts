import {
  type DetectedFormat,
  type Fact,
  factsOfFileName,
  isProblem,
  type ReadChainOptions,
  RowReader,
  typedByFacts,
} from '@umwelt/market/chain-file';
import { type ChainField, type ColumnMapping, missingFields } from '@umwelt/market/chain-format';
import { SESSION_CLOSE, VELDMAR_ZONE } from '@umwelt/market/zone';
import type { ImportOptions } from '../../api/chain-import.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';

/** A setting with what it was told by. */
export interface Told {
  value: string;
  reason: string;
}

/** How a file is going to be read. */
export interface ChainPlan {
  detected: DetectedFormat;
  read: ReadChainOptions;
  facts: Fact[];
  missing: ChainField[];
  memory: 'none' | 'used' | 'contradicted';
  zone: Told;
  sessionClose: Told;
}

export interface PlanInput {
  detected: DetectedFormat;
  fileName: string;
  /** What the user or the caller of the API said; undefined on the first look */
  options: ImportOptions | undefined;
  /** What the user decided about such a file before */
  remembered?: ImportOptions;
  /** Underlying of the file's first row where it is stored already */
  stored?: StoredUnderlying;
}

/** Joins what was recognised, remembered and said; what was said goes first, and what the cells contradict is not remembered. */
export function planChain({ detected, fileName, options, remembered, stored }: PlanInput): ChainPlan {
  const facts = [...detected.facts, ...factsOfFileName(fileName)];
  const zone = toldFirst(
    [options?.zone, 'you said so'],
    [stored?.zone, `that of ${stored?.symbol ?? ''}`],
    [detected.zone, 'the instants of the file name it'],
    [remembered?.zone, 'as in such a file before'],
    [VELDMAR_ZONE, 'nothing in the file tells; that of the demo'],
  );
  const sessionClose = toldFirst(
    [options?.sessionClose, 'you said so'],
    [stored?.sessionClose, `that of ${stored?.symbol ?? ''}`],
    [detected.sessionClose, 'the expiries of the file have it'],
    [remembered?.sessionClose, 'as in such a file before'],
    [SESSION_CLOSE, 'nothing in the file tells'],
  );
  const plan = (mapping: ColumnMapping, format: ReadChainOptions['format']): ReadChainOptions => {
    const said = Object.entries(options?.typed ?? {}).filter(([, text]) => text !== undefined && text.trim() !== '');
    const typed = { ...typedByFacts(mapping, facts), ...Object.fromEntries(said) };
    return { format, mapping, typed, zone: zone.value, sessionClose: sessionClose.value };
  };
  const own = plan(detected.mapping, detected.format);
  let read = own;
  let memory: ChainPlan['memory'] = 'none';
  if (options) read = plan(options.mapping ?? detected.mapping, { ...detected.format, ...options.format });
  else if (remembered?.mapping) {
    const before = plan(remembered.mapping, rememberedFormat(detected, remembered));
    const agrees = badRows(before, detected) <= badRows(own, detected);
    if (agrees) read = before;
    // What was recognised just so anyway is nothing to speak of.
    const isOther = !isSame(before.mapping, own.mapping) || !isSame(before.format, own.format);
    memory = agrees ? (isOther ? 'used' : 'none') : 'contradicted';
  }
  return { detected, read, facts, missing: missingFields(read.mapping, read.typed), memory, zone, sessionClose };
}

/** Whether two records have the same values, in whatever order. */
function isSame<T extends object>(a: T, b: T): boolean {
  return (Object.keys({ ...a, ...b }) as (keyof T)[]).every((key) => a[key] === b[key]);
}

/** Marks are recognised anew from each file; an order of dates is remembered only where the dates do not tell it. */
function rememberedFormat(detected: DetectedFormat, { format }: ImportOptions): ReadChainOptions['format'] {
  const dateOrder = detected.isDateOrderAmbiguous ? format.dateOrder : undefined;
  return { ...detected.format, ...(dateOrder ? { dateOrder } : {}) };
}

/** How many of the first rows would be left out. */
function badRows(read: ReadChainOptions, { rows }: DetectedFormat): number {
  const missing = missingFields(read.mapping, read.typed);
  if (missing.length > 0) return rows.length + missing.length;
  const reader = new RowReader(read);
  return rows.filter(({ cells, line }) => reader.read(cells, line).some(isProblem)).length;
}

function toldFirst(...choices: [value: string | undefined, reason: string][]): Told {
  const [value, reason] = choices.find((choice): choice is [string, string] => choice[0] !== undefined) ?? ['', ''];
  return { value, reason };
}

/** Symbol of the first row that can be read, which tells whose zone and close hold. */
export function firstSymbol(detected: DetectedFormat, fileName: string): string | undefined {
  const read = planChain({ detected, fileName, options: undefined }).read;
  if (missingFields(read.mapping, read.typed).length > 0) return read.typed.underlying;
  const reader = new RowReader(read);
  for (const { cells, line } of detected.rows) {
    const row = reader.read(cells, line).find((r) => !isProblem(r));
    if (row && !isProblem(row)) return row.underlying;
  }
  return undefined;
}
