import type { ViewDefinition } from '../../shell/view-definition.ts';
import { rangeParameters } from './parameters.ts';

export const RANGE_VIEW: ViewDefinition = {
  id: 'range',
  label: 'Range',
  key: '6',
  subject: 'underlying',
  parameters: rangeParameters,
  ofAnyUnderlying: ['move', 'coverage', 'drift', 'ahead', 'panel', 'chance', 'goal', 'over', 'eventful'],
  leftBehind: { level: 'the prices whose odds were read' },
  resources: ['surface', 'past', 'market'],
  page: () => import('./range-view.svelte'),
};
