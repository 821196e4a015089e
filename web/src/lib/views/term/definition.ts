import type { ViewDefinition } from '../../shell/view-definition.ts';
import { termParameters } from './parameters.ts';

export const TERM_VIEW: ViewDefinition = {
  id: 'term',
  label: 'Term',
  key: '3',
  subject: 'underlying',
  parameters: termParameters,
  ofAnyUnderlying: ['lines', 'at', 'compare'],
  resources: ['surface', 'past'],
  page: () => import('./term-view.svelte'),
};
