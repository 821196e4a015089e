import type { JsonBody } from './json-body.ts';
import type { ShelfRead } from './shelf-of.ts';
import type { ForecastRecordInput } from './forecast-record-of.ts';
import type { LevelInput } from './level-input.ts';
import type { OddsBasis, OddsBasisInput } from './odds-basis.ts';
import type { JudgedWindow, OddsWindowsInput } from './odds-windows.ts';
import type { OddsChoice, RangeExpiry, SourceOddsRow, StrikesChoice, StrikesResponse } from '../../api/range.ts';
import type { MeasuresInput } from './instant-measures.ts';
import type { ResourceInput } from './resource-input.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import type { StoredMeasures } from '../repositories/measures.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { StructureByNumbers, StructureBySymbol, StructureEvaluation } from '../../api/structure.ts';
import type {
  EvaluatedStructure,
  HedgeResult,
  ListedOption,
  OddsInput,
  VolatilityInForce,
} from '../../theory/index.ts';
import type { ChainRow } from '../../api/chain-row.ts';
import type { Slice } from '@umwelt/core/surface';
import type { WrittenTerms } from '@umwelt/market/chain-file';
import type { EncodedRows } from '@umwelt/market/table-file';
import type { TableKind, TableRecord } from '@umwelt/market/table-format';
import type { GuessedTerms, TermsEvidence } from '@umwelt/market/terms';
import type { PreviewSmile } from '../../api/chain-import.ts';
import type { MadeQuotes } from './made-quotes.ts';
import type { GatheredSlice } from '../repositories/chain-staging.ts';
import type { Carry } from './derive-stored.ts';

export type RowsKind = 'price' | 'implied-volatility';
export type RowsAccuracy = 'fast' | 'default' | 'exact' | undefined;
/** What the rows of a body are cut into, each part a JSON array. */
export interface RowsPlan {
  accuracy: RowsAccuracy;
  parts: string[];
}

/** JSON of what is seen at an instant, without the instants around it. */
export interface ResourceTexts {
  surface: string;
  market: string;
  past: string;
  /** All in one */
  picture: string | null;
}

/** What worker threads compute, by name: what each is given, and what it gives back. */
export interface ComputeTasks {
  rowsPlan: [{ kind: RowsKind; body: Uint8Array }, JsonBody<RowsPlan>];
  /** As many rows of a part as fit into one turn, from one on */
  rowsPiece: [
    { kind: RowsKind; part: string; from: number; accuracy: RowsAccuracy },
    { text: string; next: number | null },
  ];
  /** JSON of the fit */
  surfaceFit: [{ body: Uint8Array }, JsonBody<string>];
  /** The resources as they are sent, and all in one where that is wanted */
  resources: [{ input: ResourceInput; isWhole: boolean }, ResourceTexts];
  chain: [{ expiry: ExpiryPicture; inForce: VolatilityInForce; options: readonly ListedOption[] }, ChainRow[]];
  measures: [MeasuresInput, StoredMeasures];
  /** JSON of Level, and of how forecasts served */
  level: [LevelInput, string];
  forecastRecord: [ForecastRecordInput, string];
  range: [
    {
      picture: Pick<Picture, 'asOf' | 'price' | 'expiries' | 'jumps' | 'events'>;
      /** Only of these expiries */
      dates: string[];
      coverages: number[];
      days: number[];
    },
    { expiries: RangeExpiry[]; between: (RangeExpiry | null)[] },
  ];
  oddsBasis: [OddsBasisInput, OddsBasis];
  odds: [{ input: OddsInput; choice: OddsChoice }, SourceOddsRow[]];
  oddsWindows: [OddsWindowsInput, JudgedWindow[]];
  oddsStrikes: [{ input: OddsInput; choice: StrikesChoice }, StrikesResponse];
  structure: [StructureByNumbers, StructureEvaluation];
  listedStructure: [
    {
      picture: Picture;
      request: StructureBySymbol;
      settlements: ReadonlyMap<string, number | null>;
      splitFactor: number;
    },
    EvaluatedStructure,
  ];
  hedge: [{ body: Uint8Array }, JsonBody<HedgeResult>];
  realizedVolatility: [{ body: Uint8Array }, JsonBody<(number | null)[]>];
  /** Structures of a file of the Shelf */
  shelf: [{ body: Uint8Array }, JsonBody<ShelfRead>];
  /** Terms that the quotes of a file betray */
  terms: [TermsEvidence, GuessedTerms];
  /** Prices of an underlying by parity, one for each slice */
  impliedPrices: [{ slices: Slice[]; isFuture: boolean }, number[] | undefined];
  /** Prices at quoted volatilities */
  madeQuotes: [{ slices: GatheredSlice[]; carry: Carry; width: number }, (MadeQuotes | null)[]];
  /** A smile that a file would give */
  previewSmile: [{ slices: GatheredSlice[]; carry: Carry; zone: string }, PreviewSmile | null];
  workbook: [{ body: Uint8Array }, JsonBody<Uint8Array>];
  /** Row groups of Parquet files, of whole slices and of records */
  chainGroup: [
    { symbol: string; zone: string; terms: WrittenTerms; slices: StoredSlice[]; start: number },
    EncodedRows,
  ];
  tableGroup: [{ kind: TableKind; records: TableRecord[]; start: number }, EncodedRows];
}
export type ComputeTask = keyof ComputeTasks;

/** Tasks that are given a body alone, which they read themselves, and what they make of it. */
export type BodyTask = {
  [N in ComputeTask]: ComputeTasks[N] extends [infer Given, JsonBody<unknown>]
    ? { body: Uint8Array } extends Given
      ? N
      : never
    : never;
}[ComputeTask];
export type BodyAnswer<N extends BodyTask> = Extract<ComputeTasks[N][1], { type: 'body' }>['data'];
