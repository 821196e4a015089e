import { SIMULATOR_VERSION } from '@umwelt/market/veldmar';
import { DERIVATION_VERSION } from '../derive/measures-of.ts';

/** What the demo is made by: its quotes by the simulator, its two years of measures by the derivation. */
export const DEMO_VERSION = 1000 * SIMULATOR_VERSION + DERIVATION_VERSION;
