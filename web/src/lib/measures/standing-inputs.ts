import type { Standing } from '../api/past-resource.ts';
import type { Unit, WorkingsInput } from './measure.ts';

/** What is known of the past that a figure is placed in; `c`, how many of it were lower, is what a percentile is the share of. */
export function pastInputs(
  standing: Standing | null,
  unit: Unit,
  names: { low: string; high: string } = { low: 'low', high: 'high' },
): WorkingsInput[] {
  const of = (symbol: string, label: string, value: number | null | undefined, what: Unit): WorkingsInput => ({
    symbol,
    label,
    value: value ?? null,
    unit: what,
    source: 'stored measures',
  });
  return [
    of(names.low, 'lowest of the past', standing?.low, unit),
    of(names.high, 'highest of the past', standing?.high, unit),
    of('n', 'stored sessions within a year', standing?.count, 'count'),
    of('c', 'of them lower', standing?.below, 'count'),
  ];
}

/** A volatility of now, and the past that it is placed in. */
export function standingInputs(
  standing: Standing | null,
  label: string,
  now: number | null,
  source = 'fitted smile',
): WorkingsInput[] {
  return [{ symbol: 'σ', label, value: now, unit: 'volatility', source }, ...pastInputs(standing, 'volatility')];
}
