export type { QuotedSlice, QuoteSource, QuoteWave } from './quote-source.ts';
export {
  LISTED_SPREAD_KINDS,
  type ListedSpread,
  type ListedSpreadKind,
  type TradedLeg,
  type TradePrint,
} from './traded.ts';
