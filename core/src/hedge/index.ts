export {
  type Exposures,
  type Hedge,
  HEDGED_GREEKS,
  type HedgedGreek,
  type HedgeInput,
  type HedgeInstrument,
  neutralize,
} from './neutralize.ts';
