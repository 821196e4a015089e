import { type LadderTerms, type LadderValue, type Option, optionLadder } from '@umwelt/core/pricing';
import { scaledGreeks } from '../theory/index.ts';
import { numberText } from '../ui/format.ts';
import { subscript } from './formula.ts';
import type { Derivation, InputValues, WorkingsInput } from './measure.ts';

/** Cash dividends as inputs: when, and how much. */
export function dividendInputs(dividends: Option['dividends'], source: string): WorkingsInput[] {
  return (dividends ?? []).flatMap(({ time, amount }, i): WorkingsInput[] => [
    {
      symbol: `A${subscript(i + 1)}`,
      label: `cash dividend in ${numberText(time * 365, 2)} days`,
      value: amount,
      unit: 'premium',
      source,
    },
    { symbol: `t${subscript(i + 1)}`, label: 'time to it', value: time, unit: 'years', source: 'calendar, ACT/365' },
  ]);
}

function dividendsOf(inputs: InputValues): LadderTerms['dividends'] {
  const dividends = [];
  for (let i = 1; inputs.has(`A${subscript(i)}`); i++)
    dividends.push({ time: inputs.number(`t${subscript(i)}`), amount: inputs.number(`A${subscript(i)}`) });
  return dividends;
}

/**
 * A figure of a contract by core's valuation of a ladder, from S or F, K, T, r, q, σ and the cash dividends among the inputs.
 * @param text how readers know it
 */
export function contractProcedure(
  { side, exercise, model }: Pick<Option, 'side' | 'exercise' | 'model'>,
  text: string,
  figureOf: (value: LadderValue) => number,
): Derivation {
  return {
    kind: 'procedure',
    text,
    core: 'optionLadder',
    settings: { side, exercise, model },
    run: (inputs) => {
      const common = { timeToExpiry: inputs.number('T'), rate: inputs.number('r'), exercise } as const;
      const terms: LadderTerms =
        model === 'spot'
          ? {
              ...common,
              model,
              underlying: inputs.number('S'),
              dividendYield: inputs.number('q'),
              dividends: dividendsOf(inputs),
            }
          : { ...common, model, underlying: inputs.number('F') };
      const rung = { side, strike: inputs.number('K'), volatility: inputs.number('σ') };
      const [value] = optionLadder(terms, [rung]);
      return value ? figureOf(scaledGreeks(value, model)) : null;
    },
  };
}
