import { keptDays, sessionInstant, UNIVERSE } from '@umwelt/market/veldmar';
import { deriveSurface } from '@umwelt/core/surface';
import { market, coreSlice, carryOf } from '/work/main/market/test/veldmar/derived.ts';
const tot = { sim: 0, eu: 0, am: 0 };
for (const u of UNIVERSE.filter((_, i) => i < 12 || i % 3 === 0)) {
  const days = keptDays(u.symbol).slice(-25).filter((_, i) => i % 3 === 0);
  const t0 = performance.now();
  const all = days.map((d) => market.slices(u.symbol, sessionInstant(d)));
  const t1 = performance.now();
  const run = (am: boolean) => { const t = performance.now(); for (const s of all) deriveSurface({ spot: s[0].underlyingPrice, slices: s.map(coreSlice), carries: s.map((x) => ({ ...carryOf(x), ...(am ? {} : { exercise: 'european' as const }) })) }); return (performance.now() - t) / all.length; };
  run(true); run(false);
  const [eu, am] = [run(false), run(true)];
  const sim = (t1 - t0) / all.length;
  tot.sim += sim; tot.eu += eu; tot.am += am;
  console.log(u.symbol, u.kind, 'sim', sim.toFixed(1), 'eu', eu.toFixed(1), 'am', am.toFixed(1), (am / eu).toFixed(2));
}
console.log(tot);
