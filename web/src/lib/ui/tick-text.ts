import { numberText } from './format.ts';

/** How the ticks of an axis are written: all with as many decimals as the step between them needs. */
export function tickText(ticks: readonly number[]): (tick: number) => string {
  const step = ticks.length > 1 ? Math.abs(ticks[1] - ticks[0]) : Math.abs(ticks.at(0) ?? 1) || 1;
  const decimals = Math.max(0, Math.min(9, -Math.floor(Math.log10(step) + 1e-9)));
  return (tick) => numberText(tick, decimals);
}
