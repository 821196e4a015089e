import { forwardStraddle, smileQuantile, type Surface } from '@umwelt/core/surface';
import { sessionsOf, TENOR_DAYS } from '../../market/index.ts';
import { realizedVolatility } from '@umwelt/core/volatility';
import type { RowSource, StoredEventMove, StoredSmile, StoredStraddle } from '../database/schema.ts';
import type { StoredMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import type { KnownEvent } from './derive-stored.ts';
import type { SessionBars } from './session-bars.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';

/** Raise when the derivation changes: stored measures of another version are made again by a job. */
export const DERIVATION_VERSION = 11;
/** Sessions of the realized windows: as many as the fixed days of the surface hold, so that what came after each can be read off */
export const REALIZED_WINDOWS = TENOR_DAYS.map(sessionsOf);
/** Close-to-close needs one bar more. */
export const BARS_NEEDED = Math.max(...REALIZED_WINDOWS) + 1;
/** Probabilities whose quantiles are kept at each of the fixed days. */
export const QUANTILES = [0.05, 0.16, 0.25, 0.75, 0.84, 0.95];

/**
 * What is kept of one derived instant.
 * @param ended sessions that have ended by the instant
 */
export function measuresOf(
  surface: Surface,
  rows: StoredSlice[],
  ended: SessionBars,
  { events, source }: { events: readonly KnownEvent[]; source: RowSource },
): StoredMeasures {
  const { underlyingId, instant, underlyingPrice } = rows[0];
  const rejected: Record<string, number> = {};
  let quotes = 0;
  for (const { verdicts } of surface.expiries) {
    for (const verdict of [...verdicts.call, ...verdicts.put]) {
      quotes++;
      if (verdict) rejected[verdict] = (rejected[verdict] ?? 0) + 1;
    }
  }
  const month = surface.volatility?.constantMaturity(30 / 365);
  return {
    underlyingId,
    instant,
    version: DERIVATION_VERSION,
    underlyingPrice,
    atmByTenor: TENOR_DAYS.map((days) => surface.volatility?.volatilityAt(days / 365, { logMoneyness: 0 }) ?? NaN),
    index30: surface.index30,
    riskReversal25: finiteOrNull(month?.riskReversal25),
    butterfly25: finiteOrNull(month?.butterfly25),
    impliedFinancing: surface.carry?.rate.value ?? null,
    impliedBorrow: surface.carry?.borrow.value ?? null,
    impliedDividends: surface.carry?.dividends.map((d) => ({ amount: d.amount.value, years: d.time.value })) ?? null,
    smiles: surface.expiries.flatMap((e, i) => storedSmile(e, rows[i].expiry)),
    exEvent30: finiteOrNull(exEventAt(surface, 30)),
    eventMoves: eventMovesOf(surface, events),
    straddles: surface.expiries.flatMap((e, i) => storedStraddle(e, rows[i].expiry)),
    quantiles: TENOR_DAYS.flatMap((days) => quantilesAt(surface, days)),
    quality: finiteOrNull(meanQuality(surface)),
    realizedByWindow: REALIZED_WINDOWS.map((window) => realizedAtEnd(ended, window)),
    optionVolume: sumOf(rows, 'callVolume') + sumOf(rows, 'putVolume'),
    openInterest: sumOf(rows, 'callOpenInterest') + sumOf(rows, 'putOpenInterest'),
    quotes,
    rejected,
    source,
  };
}

/** Volatility at the money at some days without the events that the quotes tell from nothing; NaN without a smile. */
export function exEventAt({ volatility }: Pick<Surface, 'volatility'>, days: number): number {
  if (!volatility) return NaN;
  const years = days / 365;
  const held = volatility.events.reduce((sum, e) => (e.time <= years ? sum + e.variance : sum), 0);
  return Math.sqrt(Math.max(0, volatility.smileAt(years).totalVariance(0) - held) / years);
}

/** What the quotes imply of each scheduled event; none of those that they tell nothing of. */
function eventMovesOf(surface: Surface, events: readonly KnownEvent[]): StoredEventMove[] {
  return (surface.events?.events ?? []).flatMap((e) =>
    e.ok
      ? [
          {
            instant: events[e.index].instant.toISOString(),
            kind: events[e.index].kind,
            move: e.move,
            interval: e.interval,
          },
        ]
      : [],
  );
}

/** The straddle at the forward of an expiry, at mid; none where the quotes beside the forward do not make one. */
function storedStraddle(e: Surface['expiries'][number], expiry: Date): StoredStraddle[] {
  const { forward } = e.forward;
  const straddle = e.outlier ? NaN : forwardStraddle(e.slice, e.verdicts, forward);
  return Number.isNaN(straddle)
    ? []
    : [{ expiry: expiry.toISOString(), years: e.slice.timeToExpiry, forward, straddle }];
}

/** ln(price / forward) by probability; NaN where the smile is a level, or beyond the expiries. */
function quantilesAt({ volatility, term }: Surface, days: number): number[] {
  const years = days / 365;
  const isWithin = term.length > 0 && term[0].timeToExpiry <= years && years <= term[term.length - 1].timeToExpiry;
  if (!volatility || !isWithin || Number.isNaN(volatility.constantMaturity(years).riskReversal25))
    return QUANTILES.map(() => NaN);
  const smile = volatility.smileAt(years);
  return QUANTILES.map((probability) => smileQuantile(smile, probability));
}

/** Quality of the fitted smiles on average; NaN of none. */
function meanQuality({ expiries }: Surface): number {
  const qualities = expiries.flatMap((e) => (e.smile && !e.outlier ? [e.smile.quality] : []));
  return qualities.reduce((sum, q) => sum + q / qualities.length, qualities.length > 0 ? 0 : NaN);
}

function realizedAtEnd({ sessions, bars }: SessionBars, window: number): number {
  return realizedVolatility(bars, sessions.length - 1, { estimator: 'close-to-close', window }).volatility;
}

/** The smile of an expiry as it is kept for replay; none of an outlier or of a flat level. */
function storedSmile(e: Surface['expiries'][number], expiry: Date): StoredSmile[] {
  if (e.outlier || !e.smile || e.smile.description.model === 'flat') return [];
  return [
    {
      expiry: expiry.toISOString(),
      years: e.slice.timeToExpiry,
      forward: e.forward.forward,
      smile: e.smile.description,
      range: e.smile.range,
    },
  ];
}

type Counted = 'callVolume' | 'putVolume' | 'callOpenInterest' | 'putOpenInterest';

function sumOf(rows: StoredSlice[], column: Counted): number {
  let sum = 0;
  for (const row of rows) for (const value of row[column]) if (value > 0) sum += value;
  return sum;
}
