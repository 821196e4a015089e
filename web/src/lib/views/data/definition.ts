import { z } from 'zod';
import type { ViewDefinition } from '../../shell/view-definition.ts';

export const DATA_VIEW: ViewDefinition = {
  id: 'data',
  label: 'Data',
  key: 'd',
  subject: 'none',
  isAside: true,
  parameters: z.object({}),
  ofAnyUnderlying: [],
  resources: [],
};
