import { optionGreeks } from '@umwelt/core/pricing';
import { CHANGE_CAUSES, type ChangeCause, type PriceChange } from '@umwelt/core/whatif';
import { basisFactor, basisWords, optionOf } from '../theory/index.ts';
import type { PricerInputs, PricerSettings } from '../api/pricer-inputs.ts';
import { subscript } from './formula.ts';
import { type Derivation, formula, type Unit, type WorkingsInput } from './measure.ts';
import { told, type Workings } from './workings.ts';

/** What a change of value is told by: both states, what changed by cause, and what remains of sizes. */
const FIGURES = ['from', ...CHANGE_CAUSES, 'size', 'change', 'to'] as const;
export type ChangeFigure = (typeof FIGURES)[number];

/** Identifier of a figure of the change since the pin. */
export function changeFigureId(figure: ChangeFigure): string {
  return `since-pin~${figure}`;
}

/** Two states of the Pricer and the change between them, per unit of underlying. */
export interface ChangeStates {
  pinned: PricerInputs;
  now: PricerInputs;
  change: PriceChange;
  basis: PricerSettings['basis'];
}

/** What each figure is, and by which formula of core's explainPriceChange; the parts add up to the change. */
const TOLD: Record<ChangeFigure, { label: string; definition: string; formula: string | null }> = {
  from: { label: 'value when pinned', definition: 'Value under the pinned inputs.', formula: 'm V' },
  delta: {
    label: 'part of the move',
    definition: 'What the pinned delta makes of the move of the underlying.',
    formula: 'm Δ (S′ − S)',
  },
  gamma: {
    label: 'part of the move squared',
    definition: 'What the pinned gamma makes of the square of the move.',
    formula: 'm Γ M² / 2, M = S′ − S',
  },
  theta: {
    label: 'part of the days gone',
    definition: 'What the pinned theta makes of the time that has passed.',
    formula: 'm Θ (T − T′)',
  },
  vega: {
    label: 'part of the volatility',
    definition: 'What the pinned vega makes of the change of volatility.',
    formula: 'm Λ (σ′ − σ)',
  },
  rho: {
    label: 'part of the rate',
    definition: 'What the pinned rho makes of the change of the rate.',
    formula: 'm ρ (r′ − r)',
  },
  dividend: {
    label: 'part of yield and dividends',
    definition: 'What the change of the yield makes, and other cash dividends by pricing the pinned state with them.',
    formula: null,
  },
  contract: {
    label: 'part of another contract',
    definition: 'Value of the contract of now less that of the pinned one in the market of now.',
    formula: null,
  },
  rest: {
    label: 'rest',
    definition: 'What is of higher order: the change less all that is told by cause.',
    formula: 'm (V′ − V − Σ pⱼ)',
  },
  size: {
    label: 'part of the size',
    definition: 'Value of now for what the position has become larger.',
    formula: '(m′ − m) V′',
  },
  change: { label: 'change since the pin', definition: 'Value of now less that of the pin.', formula: 'm′ V′ − m V' },
  to: { label: 'value now', definition: 'Value under the inputs of now.', formula: 'm′ V′' },
};
const SOURCE =
  'Taylor expansion of the value in its inputs: Hull, J. C. (2015). Options, Futures, and Other Derivatives, 9th ed., chapter 19';

/** How a figure of the change comes about. */
export function changeDerivation(figure: ChangeFigure): Derivation {
  const { formula: text } = TOLD[figure];
  if (text !== null) return formula(text);
  return { kind: 'fit', text: 'both states valued, one with inputs of the other', core: 'explainPriceChange' };
}

function inputsOf(figure: ChangeFigure, { pinned, now, change, basis }: ChangeStates): WorkingsInput[] {
  const greeks = optionGreeks(optionOf(pinned));
  const at = (symbol: string, label: string, value: number, unit: Unit, state: 'pin' | 'now'): WorkingsInput => {
    return { symbol, label, value, unit, source: state === 'pin' ? 'as pinned' : 'now' };
  };
  const sizes = [
    { ...at('m', `size, ${basisWords(basis, pinned)}`, basisFactor(basis, pinned), 'count', 'pin') },
    { ...at('m′', `size, ${basisWords(basis, now)}`, basisFactor(basis, now), 'count', 'now') },
  ];
  const values = [
    at('V', 'value per unit', change.from, 'premium', 'pin'),
    at('V′', 'value per unit', change.to, 'premium', 'now'),
  ];
  const moved = [
    at('S', 'underlying', pinned.underlying, 'price', 'pin'),
    at('S′', 'underlying', now.underlying, 'price', 'now'),
  ];
  const greek = (symbol: string, label: string, value: number) => at(symbol, label, value, 'greek', 'pin');
  const volatility: Unit = pinned.model === 'normal' ? 'price' : 'volatility';
  const [size] = sizes;
  switch (figure) {
    case 'delta':
      return [greek('Δ', 'delta', greeks.delta), ...moved, size];
    case 'gamma':
      return [greek('Γ', 'gamma', greeks.gamma), ...moved, size];
    case 'theta':
      return [
        greek('Θ', 'theta per calendar day', greeks.theta / 365),
        at('T', 'days to expiry', pinned.days, 'days', 'pin'),
        at('T′', 'days to expiry', now.days, 'days', 'now'),
        size,
      ];
    case 'vega':
      return [
        greek('Λ', 'vega per 1.00', greeks.vega),
        at('σ', 'volatility', pinned.volatility, volatility, 'pin'),
        at('σ′', 'volatility', now.volatility, volatility, 'now'),
        size,
      ];
    case 'rho':
      return [
        greek('ρ', 'rho per 1.00', greeks.rho),
        at('r', 'rate', pinned.rate, 'rate', 'pin'),
        at('r′', 'rate', now.rate, 'rate', 'now'),
        size,
      ];
    case 'rest':
      return [
        ...values,
        size,
        ...CHANGE_CAUSES.filter((cause) => cause !== 'rest').map((cause, i) =>
          at(`p${subscript(i + 1)}`, TOLD[cause].label, change.parts[cause], 'premium', 'now'),
        ),
      ];
    default:
      return [...values, ...sizes];
  }
}

/** A figure's value, as the table shows it. */
export function changeValue(figure: ChangeFigure, { pinned, now, change, basis }: ChangeStates): number {
  const [before, after] = [basisFactor(basis, pinned), basisFactor(basis, now)];
  switch (figure) {
    case 'from':
      return change.from * before;
    case 'to':
      return change.to * after;
    case 'change':
      return change.to * after - change.from * before;
    case 'size':
      return change.to * (after - before);
    default:
      return change.parts[figure satisfies ChangeCause] * before;
  }
}

/** Workings of a figure of the change since the pin; undefined when the identifier is none, or nothing is pinned. */
export function explainChangeFigure(states: ChangeStates | undefined, id: string): Workings | undefined {
  const figure = FIGURES.find((name) => changeFigureId(name) === id);
  if (!states || !figure) return undefined;
  const { pinned, now } = states;
  const inputs = inputsOf(figure, states);
  const { label, definition } = TOLD[figure];
  return {
    id,
    label,
    subject: `${pinned.side} ${pinned.strike} as pinned, ${now.side} ${now.strike} now`,
    value: changeValue(figure, states),
    unit: 'premium',
    definition,
    ...told(changeDerivation(figure), inputs),
    source: SOURCE,
    inputs,
  };
}
