import { dayNumber, instantAt, weekdayOf } from './civil-day.ts';
import { mixSeed, randomSource } from '../random/index.ts';
import { nextSession, sessionOnOrBefore } from './sessions.ts';
import { UNIVERSE } from './universe.ts';

export interface ScheduledEvent {
  /** Undefined for an event of the whole market */
  symbol?: string;
  instant: number;
  kind: 'report' | 'readout' | 'central-bank' | 'harvest' | 'budget';
  label: string;
  /** Standard deviation of the jump in the logarithm of price that options price, per underlying */
  moves: Record<string, number>;
  /** The jump that came, where the story tells it; else it is drawn */
  outcome?: number;
}

const YEARS = [2028, 2029, 2030, 2031, 2032, 2033];
const CENTRAL_BANK_MONTHS = [1, 3, 4, 6, 7, 9, 10, 12];
/** Month and day, about, of each share's four reports, by turns. */
const REPORT_MONTHS = [2, 5, 8, 11];

function thirdThursday(year: number, month: number): number {
  const first = dayNumber(year, month, 1);
  return first + ((4 - weekdayOf(first) + 7) % 7) + 14;
}

function centralBank(): ScheduledEvent[] {
  return YEARS.flatMap((year) =>
    CENTRAL_BANK_MONTHS.map((month): ScheduledEvent => {
      const moves: Record<string, number> = {};
      for (const u of UNIVERSE) {
        if (u.kind === 'currency') moves[u.symbol] = 0.0055;
        else if (u.character.marketLoading > 0.6) moves[u.symbol] = 0.008 * u.character.marketLoading;
        else if (u.sector === 'Money') moves[u.symbol] = 0.01;
      }
      return {
        instant: instantAt(sessionOnOrBefore(thirdThursday(year, month)), 13 * 60),
        kind: 'central-bank',
        label: 'Central bank',
        moves,
      };
    }),
  );
}

/** Reports come before the open: the jump is part of the night. */
function reports(): ScheduledEvent[] {
  const shares = UNIVERSE.filter((u) => u.kind === 'share');
  return shares.flatMap((u, i) =>
    YEARS.flatMap((year) =>
      REPORT_MONTHS.map((month): ScheduledEvent => {
        // A food maker's year turns in spring; drug makers and the rest are spread over four weeks.
        const day = nextSession(dayNumber(year, month, 3 + ((i * 7) % 24)));
        const level = u.character.longLevel;
        return {
          symbol: u.symbol,
          instant: instantAt(day, 8 * 60),
          kind: 'report',
          label: 'Report',
          moves: { [u.symbol]: Math.round(level * 0.115 * 1e4) / 1e4 },
        };
      }),
    ),
  );
}

function harvests(): ScheduledEvent[] {
  return YEARS.flatMap((year) =>
    [4, 6, 7, 8, 9, 10].map((month): ScheduledEvent => {
      const large = month === 7 || month === 8;
      return {
        instant: instantAt(nextSession(dayNumber(year, month, 9)), 12 * 60),
        kind: 'harvest',
        label: 'Harvest estimate',
        moves: { RYE: large ? 0.034 : 0.018, OATS: large ? 0.026 : 0.014 },
      };
    }),
  ).map((event) => ({ ...event, symbol: undefined }));
}

const STORIES: readonly ScheduledEvent[] = [
  {
    symbol: 'MERRO',
    instant: instantAt(dayNumber(2031, 3, 27), 11 * 60),
    kind: 'readout',
    label: 'Trial readout',
    moves: { MERRO: 0.15 },
  },
  {
    symbol: 'TYNDA',
    instant: instantAt(dayNumber(2031, 2, 28), 11 * 60),
    kind: 'readout',
    label: 'Trial readout',
    moves: { TYNDA: 0.19 },
    outcome: -0.235,
  },
  {
    instant: instantAt(dayNumber(2031, 4, 29), 15 * 60),
    kind: 'budget',
    label: 'Budget',
    moves: { VM50: 0.01, VFUND: 0.01, VMQ: 0.01, TERN: 0.004 },
  },
];

/** Every scheduled event from 2028 to 2033, by time. What they will bring is not known before. */
export const SCHEDULED_EVENTS: readonly ScheduledEvent[] = [
  ...centralBank(),
  ...reports(),
  ...harvests(),
  ...STORIES,
].sort((a, b) => a.instant - b.instant || (a.symbol ?? '').localeCompare(b.symbol ?? ''));

/** Jump of the logarithm of price that an event brings to an underlying. */
export function eventOutcome(event: ScheduledEvent, symbol: string, seed: number): number {
  const move = event.moves[symbol];
  if (!move) return 0;
  if (event.outcome !== undefined) return event.outcome;
  const index = UNIVERSE.findIndex((u) => u.symbol === symbol);
  const random = randomSource(mixSeed(seed, 0xe7e47, index, event.instant / 60_000));
  // Options price a little more than comes on average.
  return 0.85 * move * random.normal();
}

export interface EventVariance {
  instant: number;
  variance: number;
}

const byUnderlying = new Map<string, EventVariance[]>();

/** Variance that options price for each event of an underlying, by time. */
export function eventVariances(symbol: string): EventVariance[] {
  let known = byUnderlying.get(symbol);
  if (!known) {
    known = SCHEDULED_EVENTS.flatMap((e) =>
      e.moves[symbol] ? [{ instant: e.instant, variance: e.moves[symbol] ** 2 }] : [],
    );
    byUnderlying.set(symbol, known);
  }
  return known;
}
