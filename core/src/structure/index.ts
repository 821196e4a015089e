export {
  type CashLeg,
  checkLegs,
  firstExpiry,
  type HeldIncome,
  incomeBy,
  type Leg,
  MOST_LEGS,
  type OptionLeg,
  reversed,
  structureCost,
  type UnderlyingLeg,
} from './leg.ts';
export {
  type RecognizedStructure,
  recognizeStructure,
  STRUCTURE_NAMES,
  structureLegs,
  type StructureName,
  type StructureTerms,
  type UnpricedLeg,
} from './structure-name.ts';
export {
  type Extreme,
  type Payoff,
  payoffAtExpiry,
  payoffBreakEvens,
  payoffMaximum,
  payoffMinimum,
  payoffProfit,
} from './payoff.ts';
export { profitChance, type ProfileReach, type ProfitAt, type ProfitProfile, profitProfile } from './profit-profile.ts';
export {
  type ConstantLeg,
  type ConstantMarket,
  constantStructure,
  type StructureFigures,
  type StructureGreeks,
} from './constant-structure.ts';
export { type LaterOption, laterValue } from './later-option.ts';
export { laterVolatility, type LawNodes, lawNodes } from './later-volatility.ts';
export { STRUCTURE_MEASURES, structureGrid, type StructureGrid, type StructureMeasure } from './structure-grid.ts';
export {
  type MarketDay,
  type MarketExpiry,
  type SurfaceStructure,
  surfaceStructure,
  type SurfaceStructureResult,
  type ValuedLeg,
  type ValuedOptionLeg,
  type MarketShift,
} from './surface-structure.ts';
export { type LoadedLeg, skewLoad } from './skew-load.ts';
export { type DrawnChance, reachChance, type ReachChances, type ReachDay, type ReachInput } from './reach-chance.ts';
export { type EarlyAssignment, earlyAssignment } from './early-assignment.ts';
