import { pricerSolution, type PricerSolutions, SEARCH_TARGETS, type SolveRequest } from '../theory/index.ts';
import type { PricerInputs } from '../api/pricer-inputs.ts';
import type { Derivation, Unit } from './measure.ts';
import { type Explained, inputRows, typedInputs } from './pricer-workings.ts';
import { told, type Workings } from './workings.ts';

type Search = keyof PricerSolutions;
type Targets = Omit<SolveRequest, 'inputs'>;

/** Identifier of what a search of the Pricer found. */
export function solveFigureId(search: Search): string {
  return `solve~${search}`;
}

/** What each search is for; `symbol` and `unit` are those of its target. */
const TOLD: Record<
  Search,
  { label: string; definition: string; text: string; core: string; symbol: string; unit: Unit }
> = {
  volatility: {
    label: 'volatility for a value',
    definition: 'Volatility at which the option is worth the value.',
    text: 'V(σ′) = V, solved for σ′',
    core: 'optionImpliedVolatility',
    symbol: 'V',
    unit: 'premium',
  },
  underlying: {
    label: 'underlying for a value',
    definition: 'Price of the underlying at which the option is worth the value.',
    text: 'V(S′) = V, solved for S′',
    core: 'underlyingForPrice',
    symbol: 'V',
    unit: 'premium',
  },
  strike: {
    label: 'strike for a delta',
    definition: 'Strike at which the option has the delta.',
    text: 'Δ(K′) = Δ, solved for K′',
    core: 'strikeForDelta',
    symbol: 'Δ',
    unit: 'delta',
  },
  days: {
    label: 'days until a value',
    definition: 'Days after which the option is worth the value, everything else unchanged.',
    text: 'V(T − t) = V, solved for t',
    core: 'timeUntilPrice',
    symbol: 'V',
    unit: 'premium',
  },
  rise: {
    label: 'rise of volatility that makes up for days',
    definition: 'Points of volatility by which it must rise for the value to stay after the days.',
    text: 'V(T − t, σ + x) = V(T, σ), solved for x',
    core: 'volatilityToCancelDecay',
    symbol: 't',
    unit: 'days',
  },
};
const SEARCHES = Object.keys(TOLD) as Search[];
const METHOD =
  'Bracketing and root finding: Brent, R. P. (1973). Algorithms for Minimization without Derivatives, chapter 4';

/** How what a search found comes from what was typed and the target. */
export function solveDerivation(search: Search, o: Pick<PricerInputs, 'side' | 'exercise' | 'model'>): Derivation {
  const { text, core, symbol } = TOLD[search];
  return {
    kind: 'procedure',
    text,
    core,
    settings: { side: o.side, exercise: o.exercise, model: o.model, accuracy: 'default' },
    run: (inputs) => {
      const found = pricerSolution(search, typedInputs(inputs, o), inputs.number(symbol));
      return found.ok ? found.value : null;
    },
  };
}

/** Workings of what a search found; undefined when the identifier is none, or nothing was searched yet. */
export function explainSolveFigure(
  state: Pick<Explained, 'inputs' | 'own' | 'view'> & { targets: Targets; found: PricerSolutions | undefined },
  id: string,
): Workings | undefined {
  const search = SEARCHES.find((name) => solveFigureId(name) === id);
  const found = search && state.found?.[search];
  if (!search || !found) return undefined;
  const { inputs, targets } = state;
  const { label, definition, symbol, unit } = TOLD[search];
  const target = { symbol, label: 'target', value: targets[SEARCH_TARGETS[search]], unit, source: 'typed' };
  const rows = [target, ...inputRows(state)];
  const units: Record<Search, Unit> = {
    volatility: inputs.model === 'normal' ? 'price' : 'volatility',
    underlying: 'price',
    strike: 'price',
    days: 'days',
    rise: 'greek',
  };
  return {
    id,
    label,
    subject: `${inputs.side} ${inputs.strike}, ${inputs.exercise}, ${inputs.model} model`,
    value: found.ok ? found.value : null,
    unit: units[search],
    definition,
    ...told(solveDerivation(search, inputs), rows),
    source: METHOD,
    inputs: rows,
    absence: found.ok ? undefined : `within reach: ${found.reason}`,
  };
}
