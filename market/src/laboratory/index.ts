export { type LaboratoryCase, LABORATORY_MARKETS } from './laboratory-markets.ts';
export {
  dividendsBefore,
  laboratoryForward,
  type LaboratoryDividend,
  type LaboratoryMarket,
} from './laboratory-market.ts';
export { type ExactExpiry, exactChain } from './exact-chain.ts';
export { laboratoryQuotes, type PlantedFault } from './laboratory-quotes.ts';
export { type ExpiryTruth, expiryTruth, probabilityWithin, trueStrip } from './laboratory-truth.ts';
export { surfaceInput } from './surface-input.ts';
export { judgeMarket, type MarketErrors } from './judge-market.ts';
