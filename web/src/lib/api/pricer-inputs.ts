import { z } from 'zod';
import { optionSide } from './quantity.ts';

const MOST_DAYS = 36_500;
const MOST_DIVIDENDS = 60;
const amount = (text: string) => z.number({ error: text });

/** One cash dividend: days from now to its ex-date, and its amount per unit of underlying. */
const dividend = z.object({ days: z.number().positive().max(MOST_DAYS), amount: z.number().nonnegative().max(1e9) });

/** Each input of the Pricer by itself, with the words for a value that it cannot take. */
export const PRICER_FIELDS = {
  side: optionSide,
  exercise: z.enum(['european', 'american']),
  model: z.enum(['spot', 'futures', 'normal']),
  underlying: amount('a price is needed').min(-1e9, 'too far below 0').max(1e9, 'at most 1e9'),
  strike: amount('a price is needed').min(-1e9, 'too far below 0').max(1e9, 'at most 1e9'),
  days: amount('days, a term such as 6m, or a date such as 2031-04-18')
    .min(0, 'expiry lies in the past')
    .max(MOST_DAYS, 'at most 36 500'),
  volatility: amount('a number is needed').min(0, 'at least 0').max(1e6, 'too large'),
  rate: amount('percent a year').min(-1, 'at least −100 %').max(5, 'at most 500 %'),
  dividendYield: amount('percent a year').min(-1, 'at least −100 %').max(5, 'at most 500 %'),
  dividends: z.array(dividend, { error: 'as in 30: 1.5, 120: 1.5 (days or date: amount)' }).max(MOST_DIVIDENDS),
  contracts: amount('a whole number').int('a whole number').min(-1e6).max(1e6),
  multiplier: amount('a number is needed').positive('above 0').max(1e6, 'at most 1e6'),
} as const;

/** What the Pricer prices: one option, the market it is priced in, and how many are held (negative: short). */
export const pricerInputs = z.object(PRICER_FIELDS);
export type PricerInputs = z.infer<typeof pricerInputs>;
export type PricerField = keyof PricerInputs;

export const PRICER_FIELD_NAMES = Object.keys(PRICER_FIELDS) as PricerField[];
export const CURVE_AXES = ['underlying', 'strike', 'days', 'volatility', 'rate', 'dividendYield'] as const;
export type CurveAxis = (typeof CURVE_AXES)[number];
export const CURVE_MEASURES = [
  'price',
  'delta',
  'gamma',
  'theta',
  'vega',
  'rho',
  'dividendRho',
  'dualDelta',
  'vanna',
  'volga',
  'charm',
  'speed',
  'zomma',
  'color',
  'probabilityItm',
] as const;
export type CurveMeasure = (typeof CURVE_MEASURES)[number];

const target = z.coerce.number().optional().catch(undefined);

/** How the Pricer is looked at, as its URL carries it; what is malformed falls back to the default. */
export const pricerSettings = z.object({
  panel: z.enum(['curve', 'decay', 'market']).default('curve').catch('curve'),
  axis: z.enum(CURVE_AXES).default('underlying').catch('underlying'),
  measure: z.enum(CURVE_MEASURES).default('price').catch('price'),
  basis: z.enum(['share', 'contract', 'position']).default('share').catch('share'),
  greeks: z.enum(['main', 'all']).default('main').catch('main'),
  /** Whose change since the pin is split by cause */
  changeOf: z.enum(['value', 'delta', 'gamma', 'theta', 'vega', 'rho']).default('value').catch('value'),
  /** Targets of the searches; absent means one made from the present value */
  targetPrice: target,
  targetDelta: target,
  targetValue: target,
  decayDays: z.coerce.number().positive().max(MOST_DAYS).default(1).catch(1),
  /** The later expiry of the decay panel: days and volatility */
  farDays: z.coerce.number().positive().max(MOST_DAYS).optional().catch(undefined),
  farVolatility: z.coerce.number().positive().max(1e6).optional().catch(undefined),
  /** Yield known before the chain is looked at */
  knownYield: z.coerce.number().min(-1).max(5).default(0).catch(0),
  workings: z.string().max(120).optional().catch(undefined),
});
export type PricerSettings = z.infer<typeof pricerSettings>;

/** All that the Pricer's address carries beside the shared context: how it is looked at, the user's own inputs, a pinned state. */
export const pricerParameters = pricerSettings.extend(
  Object.fromEntries([...PRICER_FIELD_NAMES, 'pinned'].map((name) => [name, z.string().optional()])),
);

/** A field's value as the URL writes it; dividends as 30@1.5+120@1.5. */
export function fieldText(field: PricerField, inputs: PricerInputs): string {
  if (field === 'dividends') return inputs.dividends.map((d) => `${d.days}@${d.amount}`).join('+');
  return String(inputs[field]);
}

/** A field's value from the URL, undefined when it is malformed. */
function fieldFromText(field: PricerField, text: string): unknown {
  const raw = ['side', 'exercise', 'model'].includes(field)
    ? text
    : field === 'dividends'
      ? text
          .split(/[+ ]/)
          .filter((part) => part !== '')
          .map((part) => {
            const [days, paid] = part.split('@');
            return { days: Number(days), amount: Number(paid) };
          })
      : text === ''
        ? undefined
        : Number(text);
  const parsed = PRICER_FIELDS[field].safeParse(raw);
  return parsed.success ? parsed.data : undefined;
}

/** Inputs that a URL's query sets. */
export function inputsFromParameters(parameters: URLSearchParams): Partial<PricerInputs> {
  const values: Record<string, unknown> = {};
  for (const field of PRICER_FIELD_NAMES) {
    const text = parameters.get(field);
    const value = text === null ? undefined : fieldFromText(field, text);
    if (value !== undefined) values[field] = value;
  }
  return values;
}

/** All inputs as one parameter, and back; undefined when it does not hold them all. */
export function packInputs(inputs: PricerInputs): string {
  return PRICER_FIELD_NAMES.map((field) => `${field}:${fieldText(field, inputs)}`).join(';');
}
export function unpackInputs(text: string | null): PricerInputs | undefined {
  if (text === null) return undefined;
  const pairs = text.split(';').map((pair) => {
    const at = pair.indexOf(':');
    return [pair.slice(0, at), pair.slice(at + 1)] as [string, string];
  });
  const parsed = pricerInputs.safeParse(inputsFromParameters(new URLSearchParams(pairs)));
  return parsed.success ? parsed.data : undefined;
}
