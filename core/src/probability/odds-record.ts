import {
  type Evenness,
  brierScore,
  evenness,
  logScore,
  reliability,
  type ReliabilityBin,
  type ToldOdds,
} from './forecast-scores.ts';

/** A stretch of time that is over: what was said of the price's return before it, and what came. */
export interface OddsWindow {
  /** By source, the probability that the logarithm of the return ends at or below a value; absent where a source said nothing */
  laws: Readonly<Record<string, ((logReturn: number) => number) | undefined>>;
  /** Logarithm of the return that came */
  outcome: number;
  /** A deviation that was expected by any measure: thresholds stand in shares of it */
  scale: number;
}

/** How the odds of a source served. */
export interface OddsScores {
  source: string;
  /** Windows that it spoke of; they do not overlap */
  windows: number;
  /** Of the chances to end below each threshold; undefined of too few windows to say anything */
  scores?: { brier: number; logScore: number; evenness?: Evenness };
}

/** Fewer windows say nothing of a source. */
export const LEAST_WINDOWS = 20;
/** Deviations from the start at which each window is asked: the same for all sources. */
const THRESHOLDS = [-1.5, -1, -0.5, 0, 0.5, 1, 1.5];
/** Bins of equal chance want five outcomes each (common practice, no source): as many as the windows fill. */
const PER_BIN = 5;
const MOST_BINS = 10;

/** What sources told of one window, and what came: plain, so that it can be kept and put beside those of other underlyings. */
export interface ToldWindow {
  /** When it began: windows of several underlyings that began together are one draw of the market */
  start: string;
  told: Readonly<Record<string, { below: readonly number[]; place: number } | undefined>>;
  /** Whether it ended at or below each threshold */
  came: readonly boolean[];
}

/** Asks each source of a window the same: the chance to end below each threshold, and where in its law the outcome lies. */
export function askWindow({ laws, outcome, scale }: OddsWindow, start: string): ToldWindow {
  const told = Object.entries(laws).flatMap(([source, law]) => {
    if (!law) return [];
    return [[source, { below: THRESHOLDS.map((n) => law(n * scale)), place: law(outcome) }] as const];
  });
  return { start, told: Object.fromEntries(told), came: THRESHOLDS.map((n) => outcome <= n * scale) };
}

/** What a source told of the thresholds of each window, and whether it came true. */
function toldOf(windows: readonly ToldWindow[], source: string): ToldOdds[] {
  return windows.flatMap(({ told, came }) =>
    (told[source]?.below ?? []).map((probability, i) => ({ probability, cameTrue: came[i] })),
  );
}

/**
 * How the odds of several sources served over windows that do not overlap. Windows of several underlyings over the same sessions
 * share what moved the market: they count once towards the least number, and how evenly outcomes fall is not judged of them.
 * @see Brier (1950) and Good (1952) for the scores; Diebold, Gunther & Tay (1998) for the evenness of outcomes over each law
 */
export function scoreSources(windows: readonly ToldWindow[], sources: readonly string[]): OddsScores[] {
  return sources.map((source) => {
    const spoken = windows.filter(({ told }) => told[source] !== undefined);
    const apart = new Set(spoken.map(({ start }) => start)).size;
    if (apart < LEAST_WINDOWS) return { source, windows: spoken.length };
    const odds = toldOf(spoken, source);
    const places = spoken.map(({ told }) => told[source]?.place ?? NaN);
    const bins = Math.min(MOST_BINS, Math.floor(spoken.length / PER_BIN));
    return {
      source,
      windows: spoken.length,
      scores: {
        brier: brierScore(odds),
        logScore: logScore(odds),
        ...(apart === spoken.length ? { evenness: evenness(places, bins) } : {}),
      },
    };
  });
}

/** Told against came of one source, by bands of what was told. */
export function reliabilityOf(windows: readonly ToldWindow[], source: string): ReliabilityBin[] {
  return reliability(toldOf(windows, source));
}
