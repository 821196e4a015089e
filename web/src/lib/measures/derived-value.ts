import { type Evaluated, evaluateFormula } from './formula.ts';
import type { Derivation, InputSeries, InputValues, WorkingsInput } from './measure.ts';

/** Thrown by a procedure's reading of an input whose value is unknown. */
class UnknownInput extends Error {}

/**
 * What a derivation makes of the inputs that Workings hold.
 * @param series their rows; undefined while those are not at hand
 * @returns undefined where more than they hold is needed, or nothing is computed
 */
export function derivedValue(
  derivation: Derivation,
  inputs: readonly WorkingsInput[],
  series?: readonly InputSeries[],
): Evaluated | undefined {
  const values = new Map(inputs.filter((i) => i.symbol !== '').map((i) => [i.symbol, i.value]));
  switch (derivation.kind) {
    case 'formula':
      return evaluateFormula(derivation.text, values);
    case 'procedure':
      return { value: runOn(derivation.run, values, series ?? []), intermediate: [] };
    default:
      return undefined;
  }
}

function runOn(
  run: (inputs: InputValues) => number | null,
  values: ReadonlyMap<string, number | null>,
  series: readonly InputSeries[],
): number | null {
  const number = (symbol: string): number => {
    const value = values.get(symbol);
    if (value === undefined) throw new Error(`no input is called ${symbol}`);
    if (value === null) throw new UnknownInput(symbol);
    return value;
  };
  const column = (symbol: string): Float64Array => {
    for (const { columns, rows } of series) {
      const at = columns.findIndex((c) => c.symbol === symbol);
      if (at >= 0) return Float64Array.from(rows, (row) => row[at] ?? NaN);
    }
    throw new UnknownInput(symbol);
  };
  try {
    return run({ number, column, has: (symbol) => values.has(symbol) });
  } catch (error) {
    if (error instanceof UnknownInput) return null;
    throw error;
  }
}
