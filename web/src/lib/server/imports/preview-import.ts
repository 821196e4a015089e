import { isProblem, RowReader } from '@umwelt/market/chain-file';
import { isoInZone } from '@umwelt/market/zone';
import type { ImportOptions, ImportPreview } from '../../api/chain-import.ts';
import { compute } from '../derive/pool.ts';
import type { Connection, Database, Session } from '../database/connect.ts';
import * as staging from '../repositories/chain-staging.ts';
import { carryOfTerms } from './complete-chain.ts';
import { gatherStaged, type TermsOfSymbol } from './import-chain.ts';
import { type ImportFailure, Rejected } from './import-failure.ts';
import { type StagedChain, stageChain, type StageInput } from './stage-chain.ts';

type Sql = Session['sql'];

const SHOWN_ROWS = 12;
const SHOWN_SYMBOLS = 50;

export type PreviewResult = { ok: true; preview: ImportPreview } | { ok: false; failure: ImportFailure };

/**
 * What an import of files would do: format, columns and terms as recognised, every row read, what is new and what would
 * change, and the smile it would give. Nothing is stored.
 * @param o.options what the user changed; absent on the first look, when a remembered mapping is used
 */
export async function previewImport(
  connection: Connection,
  owner: string,
  o: Omit<StageInput, 'owner' | 'options'> & { options?: ImportOptions },
): Promise<PreviewResult> {
  try {
    const preview = await connection.session(async (session) => {
      const staged = await stageChain(session, { owner, ...o, options: o.options });
      const whole = await readWhole(session.sql, session.database, staged, o);
      await staging.dropStaging(session.sql);
      return { ...recognised(staged, o.options), whole };
    }, o.signal);
    return { ok: true, preview };
  } catch (error) {
    if (error instanceof Rejected) return { ok: false, failure: error.failure };
    throw error;
  }
}

function recognised({ look, plan }: StagedChain, options: ImportOptions | undefined): Omit<ImportPreview, 'whole'> {
  const { detected, read } = plan;
  const reader = plan.missing.length === 0 ? new RowReader(read) : undefined;
  const rows = detected.rows.map(({ line, cells }) => ({
    line,
    cells,
    problem: reader?.read(cells, line).find(isProblem) ?? null,
  }));
  // Rows with problems come first into the few that are shown.
  const bad = rows.filter((r) => r.problem).slice(0, SHOWN_ROWS);
  return {
    table: 'chains',
    kind: look.format,
    format: read.format,
    isDateOrderAmbiguous: detected.isDateOrderAmbiguous && !options,
    areSidesAssumed: detected.areSidesAssumed && !options?.mapping,
    sheets: look.sheets,
    top: detected.top,
    headers: detected.headers,
    rows: [...bad, ...rows.filter((r) => !r.problem).slice(0, SHOWN_ROWS - bad.length)],
    mapping: read.mapping,
    memory: plan.memory,
    missing: plan.missing,
    facts: plan.facts,
    typed: read.typed,
    zone: plan.zone,
    sessionClose: plan.sessionClose,
    badRows: options?.badRows ?? 'leave-out',
    volatilityWidth: options?.volatilityWidth ?? 0.01,
  };
}

async function readWhole(
  sql: Sql,
  database: Database,
  staged: StagedChain,
  o: { options?: ImportOptions; signal?: AbortSignal },
): Promise<ImportPreview['whole']> {
  const { read, plan } = staged;
  if (!read) return null;
  const counted = {
    rows: read.rows,
    leftOut: read.leftOut,
    problems: read.counts,
    first: read.problems.slice(0, SHOWN_ROWS),
  };
  if (!read.extent) {
    const none = { instants: null, expiries: 0, sides: [], slices: { new: 0, changed: 0, same: 0, demo: 0 } };
    return { ...counted, ...none, quotedInVolatility: 0, impliedPrices: [], underlyings: [], smile: null };
  }
  const { symbols, impliedPrices } = await gatherStaged(sql, database, { staged, ...o, options: o.options });
  const { claimed: _, ...slices } = await staging.compareGathered(sql);
  const counts = await staging.gatheredCounts(sql);
  const zone = plan.zone.value;
  const { first, last, sides } = read.extent;
  return {
    ...counted,
    instants: {
      count: counts.instants,
      first: isoInZone(first.getTime(), zone),
      last: isoInZone(last.getTime(), zone),
    },
    expiries: counts.expiries,
    sides,
    slices,
    quotedInVolatility: counts.made,
    impliedPrices: impliedPrices.slice(0, SHOWN_SYMBOLS),
    underlyings: symbols
      .slice(0, SHOWN_SYMBOLS)
      .map(({ symbol, isNew, guessed }) => ({ symbol, isNew, terms: guessed })),
    smile: await smileOf(sql, database, symbols[0], o.signal),
  };
}

async function smileOf(sql: Sql, database: Database, of: TermsOfSymbol, signal: AbortSignal | undefined) {
  const slices = await staging.gatheredAt(sql, of.symbol);
  const carry = await carryOfTerms(database, { ...of, instant: slices[0].instant });
  return compute('previewSmile', { slices, carry, zone: of.zone }, { lane: 'import', signal });
}
