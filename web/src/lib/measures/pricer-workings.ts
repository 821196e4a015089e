import {
  basisFactor,
  basisWords,
  optionOf,
  priceContractOf,
  type PricerFigures,
  sideFigures,
} from '../theory/index.ts';
import type { PricerField, PricerInputs, PricerSettings } from '../api/pricer-inputs.ts';
import { subscript } from './formula.ts';
import type { Derivation, InputValues, Unit, WorkingsInput } from './measure.ts';
import { type PricerMeasure, pricerMeasure } from './pricer-measures.ts';
import { told, type Workings } from './workings.ts';

/** Identifier of a figure of the Pricer. */
export function pricerFigureId(measure: string, side: PricerInputs['side']): string {
  return `pricer~${measure}~${side}`;
}

export interface Explained {
  inputs: PricerInputs;
  own: Partial<PricerInputs>;
  settings: Pick<PricerSettings, 'basis'>;
  view?: { focus?: { forwardSource: string } };
  shown: PricerFigures | undefined;
}

const SYMBOLS: [PricerField, string, string, Unit][] = [
  ['underlying', 'S', 'underlying', 'price'],
  ['strike', 'K', 'strike', 'price'],
  ['days', 'T', 'days to expiry, over 365', 'days'],
  ['volatility', 'σ', 'volatility', 'volatility'],
  ['rate', 'r', 'rate, continuously compounded', 'rate'],
  ['dividendYield', 'q', 'yield, continuously compounded', 'rate'],
];

/** Where an input comes from, in words. */
export function sourceOf({ own, view }: Pick<Explained, 'own' | 'view'>, field: PricerField): string {
  if (own[field] !== undefined) return 'your own';
  if (!view?.focus) return 'default';
  if (field === 'rate') return `discount factor of ${view.focus.forwardSource}`;
  if (field === 'dividendYield') return `forward of ${view.focus.forwardSource}, spot and rate`;
  if (field === 'volatility') return 'volatility source in force; of the spot between cash dividends';
  return 'stored market';
}

/** What was typed, as Workings hold it; one contract of one unit. */
export function typedInputs(
  inputs: InputValues,
  { side, exercise, model }: Pick<PricerInputs, 'side' | 'exercise' | 'model'>,
): PricerInputs {
  const dividends = [];
  for (let i = 1; inputs.has(`A${subscript(i)}`); i++)
    dividends.push({ amount: inputs.number(`A${subscript(i)}`), days: inputs.number(`t${subscript(i)}`) });
  return {
    ...{ side, exercise, model, dividends, contracts: 1, multiplier: 1 },
    underlying: inputs.number('S'),
    strike: inputs.number('K'),
    days: inputs.number('T'),
    volatility: inputs.number('σ'),
    rate: inputs.number('r'),
    dividendYield: inputs.has('q') ? inputs.number('q') : 0,
  };
}

/** A figure of the Pricer from what was typed, times what the basis multiplies it with. */
export function pricerProcedure(
  measure: PricerMeasure,
  o: Pick<PricerInputs, 'side' | 'exercise' | 'model'>,
): Derivation {
  const { side, exercise, model } = o;
  return {
    kind: 'procedure',
    text: measure.formula,
    core: measure.core,
    settings: { side, exercise, model, accuracy: 'default' },
    run: (inputs) => {
      const typed = typedInputs(inputs, o);
      const value = measure.value(sideFigures(typed));
      return value === undefined ? null : value * (inputs.has('×') ? inputs.number('×') : 1);
    },
  };
}

/** What was typed, and where it comes from. */
export function inputRows(state: Pick<Explained, 'inputs' | 'own' | 'view'>): WorkingsInput[] {
  const { inputs } = state;
  const rows: WorkingsInput[] = SYMBOLS.filter(([field]) => field !== 'dividendYield' || inputs.model === 'spot').map(
    ([field, symbol, label, unit]) => ({
      symbol,
      label,
      value: inputs[field] as number,
      unit: field === 'volatility' && inputs.model === 'normal' ? 'price' : unit,
      source: sourceOf(state, field),
    }),
  );
  inputs.dividends.forEach((d, i) => {
    const source = sourceOf(state, 'dividends');
    rows.push(
      { symbol: `A${subscript(i + 1)}`, label: 'cash dividend', value: d.amount, unit: 'premium', source },
      { symbol: `t${subscript(i + 1)}`, label: 'days to it', value: d.days, unit: 'days', source },
    );
  });
  return rows;
}

/** Workings of a figure of the Pricer; undefined when the identifier is none, or nothing is computed yet. */
export function explainPricerFigure(state: Explained, id: string): Workings | undefined {
  const [prefix, name, sideText] = id.split('~');
  const measure = prefix === 'pricer' ? pricerMeasure(name) : undefined;
  const side = sideText === 'put' ? 'put' : 'call';
  if (!measure || !state.shown) return undefined;
  const { inputs, shown } = state;
  const value = measure.value(shown[side]);
  const factor = measure.isScaled ? basisFactor(state.settings.basis, inputs) : 1;
  const rows = inputRows(state);
  if (factor !== 1) {
    const source = basisWords(state.settings.basis, inputs);
    rows.push({ symbol: '×', label: 'multiplier and contracts', value: factor, unit: 'count', source });
  }
  return {
    id,
    label: measure.label,
    subject: `${side} ${inputs.strike}, ${inputs.exercise}, ${inputs.model} model`,
    value: value === undefined ? null : value * factor,
    unit: measure.unit,
    definition: measure.definition,
    ...told(pricerProcedure(measure, { ...inputs, side }), rows),
    source: measure.source,
    inputs: rows,
    note: `Method: ${shown[side].method}, level ${shown.level}. ${shown[side].why}`,
    request: {
      accuracy: shown.level === 'fast' ? 'fast' : 'default',
      contracts: [priceContractOf(optionOf({ ...inputs, side }))],
    },
  };
}
