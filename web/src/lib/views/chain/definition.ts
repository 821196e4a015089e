import type { ViewDefinition } from '../../shell/view-definition.ts';
import { chainParameters } from './parameters.ts';

export const CHAIN_VIEW: ViewDefinition = {
  id: 'chain',
  label: 'Chain',
  key: '5',
  subject: 'underlying',
  parameters: chainParameters,
  ofAnyUnderlying: ['table', 'sides', 'show'],
  resources: ['surface', 'past', 'market'],
  page: () => import('./chain-view.svelte'),
};
