export {
  CROWN_CURVE,
  LISTED,
  SCHEDULED_EVENTS,
  type ListedUnderlying,
  type ScheduledEvent,
  type UnderlyingKind,
} from './underlyings.ts';
export { TODAY } from './sessions.ts';
export { type SimulatedBar, type SimulatedMarket, type SimulatedSlice, simulateMarket } from './simulate.ts';
