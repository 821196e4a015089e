import { numberText } from '../ui/format.ts';
import { basisFactor, basisWords, optionOf, priceContractOf, type PricerFigures } from '../theory/index.ts';
import type { PricerField, PricerInputs, PricerSettings } from '../api/pricer-inputs.ts';
import type { Unit, WorkingsInput } from './measure.ts';
import { pricerMeasure } from './pricer-measures.ts';
import type { Workings } from './workings.ts';

/** Identifier of a figure of the Pricer. */
export function pricerFigureId(measure: string, side: PricerInputs['side']): string {
  return `pricer~${measure}~${side}`;
}

interface Explained {
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

/** Workings of a figure of the Pricer; undefined when the identifier is none, or nothing is computed yet. */
export function explainPricerFigure(state: Explained, id: string): Workings | undefined {
  const [prefix, name, sideText] = id.split('~');
  const measure = prefix === 'pricer' ? pricerMeasure(name) : undefined;
  const side = sideText === 'put' ? 'put' : 'call';
  if (!measure || !state.shown) return undefined;
  const { inputs, shown } = state;
  const value = measure.value(shown[side]);
  const factor = measure.isScaled ? basisFactor(state.settings.basis, inputs) : 1;
  const rows: WorkingsInput[] = SYMBOLS.filter(([field]) => field !== 'dividendYield' || inputs.model === 'spot').map(
    ([field, symbol, label, unit]) => ({
      symbol,
      label,
      value: inputs[field] as number,
      unit: field === 'volatility' && inputs.model === 'normal' ? 'price' : unit,
      source: sourceOf(state, field),
    }),
  );
  for (const d of inputs.dividends) {
    rows.push({
      symbol: 'D',
      label: `cash dividend in ${numberText(d.days, 2)} days`,
      value: d.amount,
      unit: 'premium',
      source: sourceOf(state, 'dividends'),
    });
  }
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
    formula: measure.formula,
    source: measure.source,
    inputs: rows,
    note: `Method: ${shown[side].method}, level ${shown.level}. ${shown[side].why}`,
    request: {
      accuracy: shown.level === 'fast' ? 'fast' : 'default',
      contracts: [priceContractOf(optionOf({ ...inputs, side }))],
    },
  };
}
