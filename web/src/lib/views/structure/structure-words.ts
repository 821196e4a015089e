import type { RecognizedStructure, StructureName } from '@umwelt/core/structure';

const NAMES: Record<StructureName, string> = {
  underlying: 'underlying',
  single: 'single option',
  vertical: 'vertical',
  straddle: 'straddle',
  strangle: 'strangle',
  guts: 'guts',
  butterfly: 'butterfly',
  'broken-wing-butterfly': 'broken-wing butterfly',
  condor: 'condor',
  'iron-butterfly': 'iron butterfly',
  'iron-condor': 'iron condor',
  'ratio-spread': 'ratio spread',
  'back-spread': 'back spread',
  calendar: 'calendar',
  diagonal: 'diagonal',
  'double-calendar': 'double calendar',
  'risk-reversal': 'risk reversal',
  synthetic: 'synthetic',
  conversion: 'conversion',
  collar: 'collar',
  'covered-call': 'covered call',
  'covered-put': 'covered put',
  'protective-put': 'protective put',
  'protective-call': 'protective call',
  box: 'box',
  'jelly-roll': 'jelly roll',
  custom: 'custom',
};

export const structureName = (name: StructureName) => NAMES[name];
/** Its name, and that it is the other side of what that usually means. */
export const structureWords = ({ name, isReversed }: RecognizedStructure) =>
  `${isReversed ? 'reversed ' : ''}${NAMES[name]}`;
/** Those that can be begun with. */
export const OFFERED: readonly StructureName[] = [
  ...(['vertical', 'straddle', 'strangle', 'butterfly', 'iron-condor', 'calendar'] as const),
  ...(['ratio-spread', 'risk-reversal', 'collar', 'covered-call', 'diagonal', 'double-calendar'] as const),
];
