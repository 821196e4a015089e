import type { ViewDefinition } from '../../shell/view-definition.ts';
import { structureParameters } from './parameters.ts';

export const STRUCTURE_VIEW: ViewDefinition = {
  id: 'structure',
  label: 'Structure',
  key: '7',
  subject: 'underlying',
  parameters: structureParameters,
  ofAnyUnderlying: [
    ...['panel', 'measure', 'down', 'each', 'take', 'per'],
    ...['smile', 'shift', 'tilt', 'rate', 'rooted'],
  ],
  leftBehind: {
    held: 'the underlying that was held',
    paid: 'prices that were paid',
    with: 'structures that it was compared with',
  },
  resources: ['surface', 'past', 'market'],
  page: () => import('./structure-view.svelte'),
};
