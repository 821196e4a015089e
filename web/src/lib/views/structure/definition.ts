import type { ViewDefinition } from '../../shell/view-definition.ts';
import { structureParameters } from './parameters.ts';

export const STRUCTURE_VIEW: ViewDefinition = {
  id: 'structure',
  label: 'Structure',
  key: '7',
  subject: 'underlying',
  parameters: structureParameters,
  ofAnyUnderlying: ['panel'],
  leftBehind: { held: 'the underlying that was held', paid: 'prices that were paid' },
  resources: ['surface', 'past', 'market'],
  page: () => import('./structure-view.svelte'),
};
