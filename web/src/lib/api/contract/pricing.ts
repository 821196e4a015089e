import { z } from 'zod';
import {
  impliedVolatilityContract,
  impliedVolatilityResponse,
  MAX_CONTRACTS,
  priceContract,
  priceResponse,
} from '../price.ts';
import { realizedVolatilityRequest, realizedVolatilityResponse } from '../realized-volatility.ts';
import { shownTableRequest } from '../shown-table.ts';
import { surfaceFitRequest, surfaceFitResponse } from '../surface-fit.ts';
import { defineRoute } from './route.ts';

const accuracy = z.enum(['fast', 'default', 'exact']).optional().meta({
  description: 'How near to the limit of its method a value is computed; closed forms are exact at every level',
});

export const priceRoute = defineRoute({
  method: 'post',
  path: '/price',
  summary: 'Value and Greeks of up to 100 000 contracts',
  body: z.strictObject({ accuracy, contracts: z.array(priceContract).max(MAX_CONTRACTS) }),
  isBodyReadApart: true,
  answer: priceResponse,
});

export const impliedVolatilityRoute = defineRoute({
  method: 'post',
  path: '/implied-volatility',
  summary: 'Implied volatility of up to 100 000 prices',
  body: z.strictObject({ accuracy, contracts: z.array(impliedVolatilityContract).max(MAX_CONTRACTS) }),
  isBodyReadApart: true,
  answer: impliedVolatilityResponse,
});

export const surfaceFitRoute = defineRoute({
  method: 'post',
  path: '/surface/fit',
  summary: 'Judge, imply and fit the quotes of one underlying',
  body: surfaceFitRequest,
  isBodyReadApart: true,
  answer: surfaceFitResponse,
});

export const realizedVolatilityRoute = defineRoute({
  method: 'post',
  path: '/realized-volatility',
  summary: 'Realized volatility of daily bars at each of them',
  body: realizedVolatilityRequest,
  isBodyReadApart: true,
  answer: realizedVolatilityResponse,
});

export const workbookRoute = defineRoute({
  method: 'post',
  path: '/tables/xlsx',
  summary: 'A table that is shown, as a workbook',
  answers: 'Workbook',
  body: shownTableRequest,
  isBodyReadApart: true,
  answer: z.string(),
  answerTypes: ['application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'],
});
