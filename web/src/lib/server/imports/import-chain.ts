import type PgBoss from 'pg-boss';
import { currencyPair, type GuessedTerms } from '@umwelt/market/terms';
import { isoInZone } from '@umwelt/market/zone';
import type { ImportOptions, ImportResult, ImportTerms } from '../../api/chain-import.ts';
import type { Connection, Database, Session } from '../database/connect.ts';
import * as images from '../repositories/import-images.ts';
import { headerKey, recordImport, recordRefusal, rememberMapping } from '../repositories/imports.ts';
import { ensurePartitions } from '../repositories/slices.ts';
import { listUnderlyings, type StoredUnderlying } from '../repositories/underlyings.ts';
import * as staging from '../repositories/chain-staging.ts';
import { deriveLater } from '../services/derive-later.ts';
import { completeChain, guessStagedTerms } from './complete-chain.ts';
import { type ImportFailure, Rejected, withoutNul } from './import-failure.ts';
import { MAX_PROBLEMS, type StagedChain, stageChain, type StageInput } from './stage-chain.ts';

type Sql = Session['sql'];
type ImportInput = Omit<StageInput, 'owner' | 'fileName' | 'options'> & {
  options: ImportOptions;
  /** What derives the measures; without one they wait until a start finds them missing */
  queue?: () => Promise<PgBoss>;
};

/**
 * Imports a chain from its files in one transaction: processes apart read them row by row, the database gathers the rows, so
 * that memory does not grow with the file. What it replaces is kept, so that it can be taken back.
 * @param o.signal ends it and leaves nothing of it
 */
export async function importChain(
  connection: Connection,
  owner: string,
  o: ImportInput,
): Promise<{ ok: true; result: ImportResult } | { ok: false; failure: ImportFailure }> {
  const { fileName } = o.options;
  try {
    const result = await stageAndStore(connection, { ...o, owner, fileName });
    return { ok: true, result };
  } catch (error) {
    if (!(error instanceof Rejected)) throw error;
    await keepRefusal(connection.database, owner, fileName, error.failure);
    return { ok: false, failure: error.failure };
  }
}

/** Most of a refusal's rows that are kept for looking at later. */
const KEPT_PROBLEMS = 200;

async function keepRefusal(database: Database, owner: string, fileName: string, failure: ImportFailure): Promise<void> {
  const rows = failure.reason === 'bad-rows' ? failure.problems : [];
  const problems = rows
    .slice(0, KEPT_PROBLEMS)
    .map(({ line, field, value, remedy }) => ({ row: line, column: field, value: withoutNul(value), remedy }));
  const count = `${rows.length} ${rows.length === 1 ? 'row is' : 'rows are'}`;
  const message = rows.length > 0 ? `${count} wrong; nothing was stored` : failure.reason;
  await recordRefusal(database, { owner, fileName, table: 'chains', refusal: { message, problems } });
}

type Undertaking = StageInput & Pick<ImportInput, 'options' | 'queue'>;

/** Rows first go to a table of the connection alone; only then does a transaction begin that others may wait for. */
function stageAndStore(connection: Connection, o: Undertaking): Promise<ImportResult> {
  return connection.session(async (session) => {
    o.signal?.throwIfAborted();
    const staged = await stageChain(session, o);
    const { read, plan } = staged;
    if (!read) throw new Rejected({ reason: 'missing-columns', columns: plan.missing });
    const isRefused = o.options.badRows === 'refuse' || read.rows === 0;
    if (read.problems.length > 0 && isRefused)
      throw new Rejected({ reason: 'bad-rows', problems: read.problems, isTruncated: read.leftOut >= MAX_PROBLEMS });
    if (!read.extent) throw new Rejected({ reason: 'no-rows' });
    o.files[0].progress = { stage: 'storing', share: 0, rows: read.rows };
    // Ahead and one by one in the order of time, each a short transaction: nobody waits for a month that is being filled.
    await ensurePartitions(session.sql, read.extent.months);
    const result = await session.transaction(async () => {
      const stored = await storeStaged(session, o, { ...staged, read });
      o.signal?.throwIfAborted();
      return stored;
    });
    await staging.dropStaging(session.sql);
    return result;
  }, o.signal);
}

/** Terms in force of a symbol of the file. */
export interface TermsOfSymbol {
  symbol: string;
  isNew: boolean;
  guessed: GuessedTerms;
  terms: ImportTerms;
  foreignCurrency: string | null;
  zone: string;
  stored?: StoredUnderlying;
}

/** Gathers the staged rows, with the terms of their underlyings, and completes what the file leaves out. */
export async function gatherStaged(
  sql: Sql,
  database: Database,
  o: { staged: StagedChain; options: ImportOptions | undefined; signal?: AbortSignal },
): Promise<{ symbols: TermsOfSymbol[]; impliedPrices: { symbol: string; price: number | null }[] }> {
  const { staged, options, signal } = o;
  await staging.adoptStoredSymbols(sql);
  await staging.gatherSlices(sql);
  const known = new Map((await listUnderlyings(database)).map((u) => [u.symbol, u]));
  const symbols: TermsOfSymbol[] = [];
  for (const { symbol } of await staging.stagedSymbols(sql)) {
    signal?.throwIfAborted();
    symbols.push(await termsOfSymbol(sql, { symbol, stored: known.get(symbol), staged, options, signal }));
  }
  const bySymbol = new Map(symbols.map((s) => [s.symbol, s]));
  const impliedPrices = await completeChain(sql, database, {
    termsOf: (symbol) => bySymbol.get(symbol) ?? symbols[0],
    volatilityWidth: options?.volatilityWidth ?? 0.01,
    signal,
  });
  return { symbols, impliedPrices };
}

async function termsOfSymbol(
  sql: Sql,
  o: {
    symbol: string;
    stored: StoredUnderlying | undefined;
    staged: StagedChain;
    options: ImportOptions | undefined;
    signal?: AbortSignal;
  },
): Promise<TermsOfSymbol> {
  const { symbol, stored, staged, options, signal } = o;
  const { plan } = staged;
  if (stored) {
    const { kind, exercise, model, multiplier, currency, foreignCurrency, zone } = stored;
    const told = <T>(value: T) => ({ value, reason: 'as stored' });
    return {
      symbol,
      isNew: false,
      guessed: {
        kind: told(kind),
        exercise: told(exercise),
        model: told(model),
        multiplier: told(multiplier),
        currency: told(currency),
      },
      terms: { kind, exercise, model, multiplier, currency },
      foreignCurrency,
      zone,
      stored,
    };
  }
  const isListed = plan.read.mapping.underlying === undefined && plan.read.typed.underlying === undefined;
  const said = options?.terms ?? {};
  // Multiplier, currency and kind of one underlying are not those of all in a file of several.
  const facts = [
    ...Object.entries(said).map(([field, value]) => ({ field, value: String(value), from: 'you' })),
    ...plan.facts,
  ];
  const guessed = await guessStagedTerms(sql, { symbol, facts, root: isListed ? symbol : undefined, signal });
  for (const [field, value] of Object.entries(said))
    Object.assign(guessed, { [field]: { value, reason: 'you said so' } });
  const { kind, exercise, model, multiplier, currency } = guessed;
  return {
    symbol,
    isNew: true,
    guessed,
    terms: {
      kind: kind.value,
      exercise: exercise.value,
      model: model.value,
      multiplier: multiplier.value,
      currency: currency.value,
    },
    foreignCurrency: kind.value === 'currency' ? (currencyPair(symbol)?.[0] ?? null) : null,
    zone: plan.zone.value,
  };
}

async function storeStaged(
  session: Session,
  o: Undertaking,
  staged: StagedChain & { read: NonNullable<StagedChain['read']> },
): Promise<ImportResult> {
  const { files, options, signal, owner } = o;
  const { plan, read } = staged;
  const [file] = files;
  const { sql, database } = session;
  await staging.lockImport(sql, { owner, sha256: files.map((f) => f.sha256).join(' ') });
  const { symbols, impliedPrices } = await gatherStaged(sql, database, { staged, options, signal });
  const unknown = impliedPrices.find((p) => p.price === null);
  if (unknown) throw new Rejected({ reason: 'no-price', symbol: unknown.symbol });
  const counts = await staging.compareGathered(sql);
  const slices = counts.new + counts.changed + counts.same;
  const zone = plan.zone.value;
  const remembered = { ...options, format: plan.read.format, mapping: plan.read.mapping, zone };
  const headers = headerKey(plan.detected.headers);
  await rememberMapping(database, { owner, headers, options: remembered });
  const result = { rows: read.rows, slices, leftOut: read.leftOut, problems: read.counts };
  if (counts.new + counts.changed + counts.claimed === 0) {
    const instants = await staging.gatheredInstants(sql);
    const underlyings = latestOf(instants, zone);
    return { status: 'unchanged', id: null, newSlices: 0, changedSlices: 0, ...result, underlyings };
  }
  const { fileName } = options;
  const id = await recordImport(database, {
    ...{ owner, fileName, table: 'chains', sha256: file.sha256, options: remembered },
    ...{ rows: read.rows, slices, leftOut: read.leftOut },
  });
  await storeUnderlyings(sql, id, symbols, plan.sessionClose.value);
  await images.recordImages(sql, id, 'slices', staging.GATHERED_WRITES);
  await staging.storeGathered(sql, id);
  const instants = await staging.gatheredInstants(sql);
  const [one, ...more] = new Set(instants.map((i) => i.symbol));
  await deriveLater(session, {
    owner,
    group: `Measures of ${more.length === 0 ? one : `${more.length + 1} underlyings`}`,
    instants: instants.map((i) => ({ underlyingId: i.id, instant: new Date(i.instant) })),
    queue: o.queue,
  });
  await images.trimImages(sql, id);
  return {
    ...{ status: 'imported', id, newSlices: counts.new, changedSlices: counts.changed, ...result },
    underlyings: latestOf(instants, zone),
  };
}

async function storeUnderlyings(
  sql: Sql,
  importId: string,
  symbols: readonly TermsOfSymbol[],
  sessionClose: string,
): Promise<void> {
  for (const { symbol, isNew, terms, foreignCurrency, zone } of symbols) {
    if (!isNew) continue;
    const created = await staging.insertNewUnderlying(sql, { symbol, terms, foreignCurrency, zone, sessionClose });
    if (created !== undefined) await images.recordNewUnderlying(sql, importId, created);
  }
  await staging.adoptNewUnderlyings(sql);
}

/** Latest instant of each symbol, which the interface opens next. */
function latestOf(instants: readonly { symbol: string; instant: number }[], zone: string): ImportResult['underlyings'] {
  const bySymbol = new Map<string, string>();
  for (const { symbol, instant } of instants) {
    if (!bySymbol.has(symbol)) bySymbol.set(symbol, isoInZone(instant, zone));
  }
  return [...bySymbol].map(([symbol, asOf]) => ({ symbol, asOf }));
}
