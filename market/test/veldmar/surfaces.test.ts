import { isFault, smileVolatility } from '@umwelt/core/surface';
import { expect, test } from 'vitest';
import { keptDays, sessionInstant, UNIVERSE } from '../../src/veldmar/index.ts';
import { market, surfaceOf } from './derived.ts';

/** All of the 252 sessions in the long run, every 36th otherwise. */
const EVERY = process.env.SOAK ? 1 : 36;

interface Score {
  injected: number;
  found: number;
  clean: number;
  rejected: number;
  fitted: number;
  inside: number;
  expiries: number;
  withArbitrage: number;
  outliers: number;
}

/** How an underlying's quotes are judged and fitted, against what the simulator knows of them. */
function scoreOf(symbol: string): Score {
  const score: Score = {
    injected: 0,
    found: 0,
    clean: 0,
    rejected: 0,
    fitted: 0,
    inside: 0,
    expiries: 0,
    withArbitrage: 0,
    outliers: 0,
  };
  for (const day of keptDays(symbol).filter((_, i, days) => (days.length - 1 - i) % EVERY === 0)) {
    const slices = market.slices(symbol, sessionInstant(day));
    const surface = surfaceOf(slices);
    slices.forEach((s, e) => {
      const expiry = surface.expiries[e];
      if (s.truth.isWrongExpiry) {
        expect(expiry.outlier, `${symbol} ${day}`).toBeDefined();
        return;
      }
      score.expiries++;
      if (expiry.outlier) score.outliers++;
      else if (!expiry.isArbitrageFree) score.withArbitrage++;
      for (const side of ['call', 'put'] as const) {
        const verdicts = expiry.verdicts[side];
        const faulty = new Set<number>();
        for (const fault of s.truth.faults) {
          if (fault.side !== side) continue;
          faulty.add(fault.index);
          if (fault.kind === 'zero-bid') continue;
          score.injected++;
          const verdict = verdicts[fault.index];
          if (verdict && (isFault(verdict) || verdict === 'below-intrinsic')) score.found++;
        }
        verdicts.forEach((verdict, i) => {
          if (faulty.has(i)) return;
          if (verdict !== 'no-bid' && verdict !== 'too-wide') score.clean++;
          if (verdict && isFault(verdict)) score.rejected++;
          if (verdict || !expiry.smile || expiry.telling[i] !== side) return;
          score.fitted++;
          const k = Math.log(s.strikes[i] / expiry.forward.forward);
          const volatility = smileVolatility(expiry.smile.smile, k);
          // A bid below what any volatility is worth bounds nothing.
          const { bid, ask } = expiry.volatilities(side);
          if (!(volatility < bid[i]) && volatility <= ask[i]) score.inside++;
        });
      }
    });
  }
  return score;
}

test.each(UNIVERSE.slice(0, 12).map((u) => [u.symbol]))(
  '%s: faults are found, clean quotes kept and fitted inside the market, without arbitrage',
  (symbol) => {
    const s = scoreOf(symbol);
    // Of the handful in a few sessions one may be missed.
    expect(s.injected - s.found, `missed of ${s.injected} faults`).toBeLessThanOrEqual(Math.max(1, 0.05 * s.injected));
    expect(s.rejected / s.clean, 'share of clean quotes rejected').toBeLessThanOrEqual(0.01);
    expect(s.inside / s.fitted, 'share of clean quotes that the smile passes inside').toBeGreaterThanOrEqual(0.95);
    expect(s.withArbitrage, `expiries with arbitrage of ${s.expiries}`).toBe(0);
    expect(s.outliers, 'expiries in line taken for outliers').toBe(0);
    if (process.env.SOAK) console.log(symbol, JSON.stringify(s));
  },
  process.env.SOAK ? 600_000 : 60_000,
);
