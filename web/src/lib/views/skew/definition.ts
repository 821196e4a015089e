import type { ViewDefinition } from '../../shell/view-definition.ts';
import { skewParameters } from './parameters.ts';

export const SKEW_VIEW: ViewDefinition = {
  id: 'skew',
  label: 'Skew',
  key: '4',
  subject: 'underlying',
  parameters: skewParameters,
  opensWith: 'readable',
  ofAnyUnderlying: ['skew', 'by', 'axis', 'compare', 'height', 'drawn', 'turn', 'tilt'],
  resources: ['surface', 'past', 'market'],
  page: () => import('./skew-view.svelte'),
};
