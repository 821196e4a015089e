import { GREEK_CAUSES, type GreekCause, type GreekChange } from '@umwelt/core/whatif';
import { basisFactor, basisWords } from '../theory/index.ts';
import type { PricerInputs, PricerSettings } from '../api/pricer-inputs.ts';
import { formula, type Unit, type WorkingsInput } from './measure.ts';
import { pricerMeasure } from './pricer-measures.ts';
import { told, type Workings } from './workings.ts';

/** Greeks whose change is split by cause. */
export const CHANGED_GREEKS = ['delta', 'gamma', 'theta', 'vega', 'rho'] as const;
export type ChangedGreek = (typeof CHANGED_GREEKS)[number];

/** What the change of a Greek is told by; a size that is another is one of its causes. */
const FIGURES = ['from', ...GREEK_CAUSES, 'size', 'change', 'to'] as const;
export type GreekChangeFigure = (typeof FIGURES)[number];

export const GREEK_CAUSE_WORDS: Readonly<Record<GreekCause, string>> = {
  underlying: 'the underlying',
  time: 'the days gone',
  volatility: 'the volatility',
  rate: 'the rate',
  dividends: 'yield and dividends',
  contract: 'another contract',
  rest: 'together beyond that',
};

/** Two states of the Pricer and the change of Greeks between them, per unit of underlying. */
export interface GreekChangeStates {
  pinned: PricerInputs;
  now: PricerInputs;
  greekChange: GreekChange;
  basis: PricerSettings['basis'];
}

export function greekChangeFigureId(greek: ChangedGreek, figure: GreekChangeFigure): string {
  return `since-pin~${greek}~${figure}`;
}

/** A figure's value, as the table shows it: the parts add up to the change. */
export function greekChangeValue(greek: ChangedGreek, figure: GreekChangeFigure, states: GreekChangeStates): number {
  const { pinned, now, greekChange, basis } = states;
  const [before, after] = [basisFactor(basis, pinned), basisFactor(basis, now)];
  const [from, to] = [greekChange.from[greek], greekChange.to[greek]];
  switch (figure) {
    case 'from':
      return from * before;
    case 'to':
      return to * after;
    case 'change':
      return to * after - from * before;
    case 'size':
      return to * (after - before);
    default:
      return greekChange.parts[greek][figure] * before;
  }
}

/** Workings of a figure of a Greek's change since the pin; undefined when the identifier is none, or nothing is pinned. */
export function explainGreekChange(states: GreekChangeStates | undefined, id: string): Workings | undefined {
  const [kind, greekName, figureName] = id.split('~');
  const greek = CHANGED_GREEKS.find((name) => name === greekName);
  const figure = FIGURES.find((name) => name === figureName);
  if (!states || kind !== 'since-pin' || !greek || !figure) return undefined;
  const { pinned, now, greekChange, basis } = states;
  const unit: Unit = pricerMeasure(greek)?.unit ?? 'greek';
  const input = (symbol: string, label: string, value: number, source: string): WorkingsInput => ({
    ...{ symbol, label, value, unit, source },
  });
  const from = input('G', `${greek} as pinned, per unit`, greekChange.from[greek], 'as pinned');
  const to = input('G′', `${greek} now, per unit`, greekChange.to[greek], 'now');
  const size = (symbol: string, state: PricerInputs, source: string): WorkingsInput => ({
    ...{ symbol, label: `size, ${basisWords(basis, state)}`, value: basisFactor(basis, state), unit: 'count', source },
  });
  const sizes = [size('m', pinned, 'as pinned'), size('m′', now, 'now')];
  const { text, inputs } = ((): { text: string; inputs: WorkingsInput[] } => {
    switch (figure) {
      case 'from':
        return { text: 'm G', inputs: [from, sizes[0]] };
      case 'to':
        return { text: 'm′ G′', inputs: [to, sizes[1]] };
      case 'change':
        return { text: 'm′ G′ − m G', inputs: [from, to, ...sizes] };
      case 'size':
        return { text: '(m′ − m) G′', inputs: [to, ...sizes] };
      case 'rest': {
        const causes = GREEK_CAUSES.filter((cause) => cause !== 'rest');
        const alone = causes.reduce((sum, cause) => sum + greekChange.parts[greek][cause], 0);
        const single = input('P', 'what each cause makes alone, together', alone, 'each state valued');
        return { text: 'm (G′ − G − P)', inputs: [from, to, single, sizes[0]] };
      }
      default: {
        const alone = greekChange.from[greek] + greekChange.parts[greek][figure];
        const label = `${greek} as pinned but for ${GREEK_CAUSE_WORDS[figure]}`;
        return { text: 'm (C − G)', inputs: [from, input('C', label, alone, 'the state valued'), sizes[0]] };
      }
    }
  })();
  const label =
    figure === 'from' || figure === 'to' || figure === 'change' || figure === 'size'
      ? { from: `${greek} when pinned`, to: `${greek} now`, change: `change of ${greek}`, size: 'part of the size' }[
          figure
        ]
      : `part of ${GREEK_CAUSE_WORDS[figure]}`;
  return {
    id,
    label,
    subject: `${pinned.side} ${pinned.strike} as pinned, ${now.side} ${now.strike} now`,
    value: greekChangeValue(greek, figure, states),
    unit,
    definition:
      'Each cause is what changing that input alone makes of the pinned state; what they make together beyond that is told by itself.',
    ...told(formula(text), inputs),
    source: 'common practice, no source',
    inputs,
  };
}
