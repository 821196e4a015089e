import { isFault } from '@umwelt/core/surface';
import { keptDays, sessionInstant, UNIVERSE } from '@umwelt/market/veldmar';
import { market, surfaceOf } from '/work/main/market/test/veldmar/derived.ts';
const every = Number(process.env.EVERY ?? 24);
const only = process.env.ONLY?.split(',');
for (const u of UNIVERSE.slice(0, 12)) {
  if (only && !only.includes(u.symbol)) continue;
  let injected = 0, found = 0, clean = 0, rejected = 0, fitted = 0, inside = 0, arb = 0, slicesN = 0, ms = 0, n = 0, cons = 0, q = 0, atm = 0;
  const reasons: Record<string, number> = {};
  let fErr = 0, yErr = 0, carry = 0, unsettled = 0;
  for (const day of keptDays(u.symbol).filter((_, i) => i % every === 0)) {
    const slices = market.slices(u.symbol, sessionInstant(day)).filter((s) => !s.truth.isWrongExpiry);
    const t = performance.now();
    const surface = surfaceOf(slices);
    ms += performance.now() - t; n++;
    slices.forEach((s, e) => {
      const x = surface.expiries[e];
      slicesN++;
      if (!x.isArbitrageFree) arb++;
      if (x.smile?.unconstrained) cons++;
      if (x.forward.source === 'carry') carry++;
      if (x.forward.reason === 'not-settled') unsettled++;
      q += x.smile?.quality ?? 0;
      fErr = Math.max(fErr, Math.abs(x.forward.forward / s.truth.forward - 1));
      const fair = s.truth.volatilities;
      const i0 = s.strikes.findIndex((k) => k >= s.truth.forward);
      if (x.measures && i0 > 0) atm += Math.abs(x.measures.atm - fair[i0]);
      for (const side of ['call', 'put'] as const) {
        const faulty = new Set(s.truth.faults.filter((f) => f.side === side).map((f) => f.index));
        for (const f of s.truth.faults) if (f.side === side && f.kind !== 'zero-bid') {
          injected++;
          const v = x.verdicts[side][f.index];
          if (v && (isFault(v) || v === 'below-intrinsic')) found++;
        }
        for (let i = 0; i < s.strikes.length; i++) {
          if (faulty.has(i)) continue;
          const v = x.verdicts[side][i];
          if (v !== 'no-bid' && v !== 'too-wide') { clean++; if (v && isFault(v)) { rejected++; reasons[v] = (reasons[v] ?? 0) + 1; } }
          if (!v && x.outOfTheMoney[i] === side && x.smile) {
            fitted++;
            const k = Math.log(s.strikes[i] / x.forward.forward);
            const vol = Math.sqrt(Math.max(0, x.smile.smile.totalVariance(k)) / x.slice.timeToExpiry);
            if (!(vol < x[side].bid[i]) && vol <= x[side].ask[i]) inside++;
          }
        }
      }
    });
  }
  console.log(u.symbol.padEnd(6), u.exercise.padEnd(9), 'found', (100 * found / injected).toFixed(1), 'rejected', (100 * rejected / clean).toFixed(2), JSON.stringify(reasons), 'inside', (100 * inside / fitted).toFixed(1), 'arb', arb, 'constrained', cons, 'of', slicesN, 'carry', carry, unsettled, 'quality', (q / slicesN).toFixed(0), 'fwdErr', fErr.toExponential(1), 'atmErr', (100 * atm / slicesN).toFixed(2), 'ms', (ms / n).toFixed(1));
}
