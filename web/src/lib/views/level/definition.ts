import type { ViewDefinition } from '../../shell/view-definition.ts';
import { levelParameters } from './parameters.ts';

export const LEVEL_VIEW: ViewDefinition = {
  id: 'level',
  label: 'Level',
  key: '2',
  subject: 'underlying',
  parameters: levelParameters,
  ofAnyUnderlying: [
    ...['implied', 'days', 'delta', 'estimator', 'window', 'over', 'withoutEvents'],
    ...['show', 'realized', 'span', 'under', 'forecast'],
  ],
  leftBehind: { expiry: 'the expiry whose volatility was followed' },
  resources: ['surface', 'past'],
  page: () => import('./level-view.svelte'),
};
