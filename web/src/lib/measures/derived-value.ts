import { type Evaluated, evaluateFormula } from './formula.ts';
import type { Derivation, InputValues, WorkingsInput } from './measure.ts';

/** Thrown by a procedure's reading of an input whose value is unknown. */
class UnknownInput extends Error {}

/**
 * What a derivation makes of the inputs that Workings hold.
 * @returns undefined where more than they hold is needed, or nothing is computed
 */
export function derivedValue(derivation: Derivation, inputs: readonly WorkingsInput[]): Evaluated | undefined {
  const values = new Map(inputs.filter((i) => i.symbol !== '').map((i) => [i.symbol, i.value]));
  switch (derivation.kind) {
    case 'formula':
      return evaluateFormula(derivation.text, values);
    case 'procedure':
      return { value: runOn(derivation.run, values), intermediate: [] };
    default:
      return undefined;
  }
}

function runOn(run: (inputs: InputValues) => number | null, values: ReadonlyMap<string, number | null>): number | null {
  const number = (symbol: string): number => {
    const value = values.get(symbol);
    if (value === undefined) throw new Error(`no input is called ${symbol}`);
    if (value === null) throw new UnknownInput(symbol);
    return value;
  };
  try {
    return run({ number, has: (symbol) => values.has(symbol) });
  } catch (error) {
    if (error instanceof UnknownInput) return null;
    throw error;
  }
}
