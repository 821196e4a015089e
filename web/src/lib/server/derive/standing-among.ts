import { termVolatility } from '@umwelt/core/surface';
import { type Standing, standing } from '@umwelt/core/volatility';
import { TENOR_DAYS } from '../../market/index.ts';
import type { SessionMeasures } from '../repositories/measures.ts';

/** Standing of a volatility among those of past sessions at the same time to expiry. */
export function standingAmong(past: readonly SessionMeasures[]) {
  const atTenor = (m: SessionMeasures, days: number) =>
    termVolatility(
      TENOR_DAYS.map((tenor, i) => ({ timeToExpiry: tenor / 365, volatility: m.atmByTenor[i] })),
      days / 365,
    );
  return (volatility: number, days: number): Standing | undefined =>
    standing(
      volatility,
      past.map((m) => atTenor(m, days)),
    );
}
