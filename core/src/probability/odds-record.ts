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
  scores?: { brier: number; logScore: number; evenness: Evenness };
}

/** Fewer windows say nothing of a source. */
export const LEAST_WINDOWS = 20;
/** Deviations from the start at which each window is asked: the same for all sources. */
const THRESHOLDS = [-1.5, -1, -0.5, 0, 0.5, 1, 1.5];
/** Bins of equal chance want five outcomes each (common practice, no source): as many as the windows fill. */
const PER_BIN = 5;
const MOST_BINS = 10;

/** What each source told of the thresholds of each window, and whether it came true. */
function toldOf(windows: readonly OddsWindow[], source: string): ToldOdds[] {
  return windows.flatMap(({ laws, outcome, scale }) => {
    const law = laws[source];
    if (!law) return [];
    return THRESHOLDS.map((n) => ({ probability: law(n * scale), cameTrue: outcome <= n * scale }));
  });
}

/**
 * How the odds of several sources served over windows that do not overlap.
 * @see Brier (1950) and Good (1952) for the scores; Diebold, Gunther & Tay (1998) for the evenness of outcomes over each law
 */
export function scoreSources(windows: readonly OddsWindow[], sources: readonly string[]): OddsScores[] {
  return sources.map((source) => {
    const spoken = windows.filter(({ laws }) => laws[source] !== undefined);
    if (spoken.length < LEAST_WINDOWS) return { source, windows: spoken.length };
    const told = toldOf(spoken, source);
    const places = spoken.map(({ laws, outcome }) => laws[source]?.(outcome) ?? NaN);
    const bins = Math.min(MOST_BINS, Math.floor(spoken.length / PER_BIN));
    return {
      source,
      windows: spoken.length,
      scores: { brier: brierScore(told), logScore: logScore(told), evenness: evenness(places, bins) },
    };
  });
}

/** Told against came of one source, by bands of what was told. */
export function reliabilityOf(windows: readonly OddsWindow[], source: string): ReliabilityBin[] {
  return reliability(toldOf(windows, source));
}
