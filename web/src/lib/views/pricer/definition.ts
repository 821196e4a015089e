import { PRICER_FIELD_NAMES, pricerParameters } from '../../api/pricer-inputs.ts';
import type { ViewDefinition } from '../../shell/view-definition.ts';

export const PRICER_VIEW: ViewDefinition = {
  id: 'pricer',
  label: 'Pricer',
  key: 'p',
  subject: 'underlying',
  isAside: true,
  isFree: true,
  parameters: pricerParameters,
  ofAnyUnderlying: ['panel', 'axis', 'measure', 'basis', 'greeks', 'side', 'contracts'],
  leftBehind: {
    pinned: 'the pinned state',
    ...Object.fromEntries(PRICER_FIELD_NAMES.map((name) => [name, 'inputs of the Pricer'])),
  },
  resources: ['surface', 'past', 'market'],
};
