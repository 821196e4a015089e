export {
  type ConstantLaw,
  type TouchLevels,
  constantDensity,
  finishAbove,
  touchProbability,
} from './touch-probability.ts';
export { type BoundedSmile, type WingRule, boundedWings, STEEPEST_TAIL } from './bounded-wings.ts';
export {
  type Hump,
  type PriceLaw,
  humpsOf,
  lawAbove,
  lawDensity,
  lawPayoff,
  lawQuantile,
  priceLaw,
  wingError,
} from './price-law.ts';
export {
  type ExpectedMove,
  centralRange,
  coverageBetween,
  meanAbsolute,
  oneDeviation,
  symmetricMove,
  varianceMove,
} from './expected-move.ts';
export { type SmilePath, touchOnSmile } from './touch-on-smile.ts';
export {
  type DrawnShare,
  type HistoryInput,
  type HistoryPaths,
  historyPaths,
  type LearntHistory,
  learnHistory,
  LEAST_HISTORY,
  pathsAbove,
  pathsTouching,
} from './history-paths.ts';
export { type Odds, type StrikeGoal, constantOdds, historyOdds, smileOdds, strikeForProbability } from './odds.ts';
export { type NextSession, type OutEarned, outEarnsDecay } from './next-session-odds.ts';
export {
  leastWorthLevel,
  type LevelRecord,
  levelRecord,
  type LevelTrial,
  type OpenInterest,
  settledWorths,
  type SettledWorth,
} from './open-interest-level.ts';
export { atLeastChance, binomialInterval, groupedInterval, type TrialGroup } from './binomial.ts';
export {
  type Evenness,
  type ReliabilityBin,
  type ToldOdds,
  brierScore,
  evenness,
  logScore,
  reliability,
} from './forecast-scores.ts';
export {
  askWindow,
  type OddsScores,
  type OddsWindow,
  LEAST_WINDOWS,
  reliabilityOf,
  scoreSources,
  type ToldWindow,
} from './odds-record.ts';
export { quantileLaw } from './quantile-law.ts';
