export type { QuotedSlice, QuoteSource, QuoteWave } from './quote-source.ts';
