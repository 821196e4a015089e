import { readFileSync } from 'node:fs';
import {
  type Accuracy,
  americanPriceInto,
  black76Price,
  europeanGreeksInto,
  europeanPriceInto,
  europeanSliceGreeksInto,
  firstGreeksColumns,
  type FirstGreeksColumns,
  impliedVolatilityInto,
} from '@umwelt/core/pricing';
import { fitSviRaw, sviRawSmile } from '@umwelt/core/surface';
import { AMERICAN_REFERENCE, type Program } from './baseline.ts';
import { americanContracts, europeanContracts, quoteColumns, quoteScores, SVI_YEARS, sviSlices } from './inputs.ts';
import { sum } from './measure.ts';

/** One piece of work that both sides do on the same inputs. */
export interface Work {
  name: string;
  program: Program;
  /** Identifiers of the baseline's lines and the ratio of times aimed at */
  against: { id: string; goal: number }[];
  operations: number;
  /** Timed rounds, as many as the baseline's */
  rounds: number;
  /** Rounds before those, for work so short that it is not compiled after one */
  warmup?: number;
  /** Does the work, returns the sum of its outputs */
  run: () => number;
  /** Relative difference of checksums that says the work is the same; Infinity where methods differ */
  agreement: number;
  /** Accuracy in words, from the last run */
  accuracy?: () => string;
}

const SIX = ['price', 'delta', 'gamma', 'vega', 'theta', 'rho'] as const;
const total = (columns: FirstGreeksColumns) => SIX.reduce((s, name) => s + sum(columns[name]), 0);

function europeanWorks(): Work[] {
  const contracts = europeanContracts();
  const count = contracts.spot.length;
  const out = firstGreeksColumns(count);
  const common = { program: 'a_bsm', operations: count, rounds: 21, agreement: 1e-12 } as const;
  return [
    {
      ...common,
      name: 'a. European price, batch',
      against: [
        { id: 'a.ql.price', goal: 0.4 },
        { id: 'a.price.stderfc', goal: 1.25 },
      ],
      run: () => (europeanPriceInto(out.price, contracts), sum(out.price)),
    },
    {
      ...common,
      name: 'a. price + five Greeks, batch',
      against: [{ id: 'a.ql.price5greeks', goal: 0.4 }],
      run: () => (europeanGreeksInto(out, contracts), total(out)),
    },
  ];
}

function impliedVolatilityWork(): Work {
  const { logMoneyness, deviation } = quoteScores();
  const count = logMoneyness.length;
  const quotes = quoteColumns(logMoneyness);
  logMoneyness.forEach((x, i) => {
    quotes.price[i] = black76Price({
      side: x >= 0 ? 'call' : 'put',
      forward: 1,
      strike: quotes.strike[i],
      timeToExpiry: 1,
      volatility: deviation[i],
      discountFactor: 1,
    });
  });
  const out = new Float64Array(count);
  const status = new Uint8Array(count);
  return {
    name: 'b. implied volatility, batch',
    program: 'b_iv',
    against: [{ id: 'b.ql.impliedStdDev(acc1e-6)', goal: 0.33 }],
    operations: count,
    rounds: 11,
    // The baseline's default stops at 1e-6, so its sum differs by about that.
    agreement: 1e-6,
    run: () => (impliedVolatilityInto(out, status, quotes), sum(out)),
    accuracy: () => {
      const errors = out.map((s, i) => Math.abs(s / deviation[i] - 1));
      const above = errors.reduce((n, e) => n + (e > 1e-13 ? 1 : 0), 0);
      return `worst relative error ${Math.max(...errors).toExponential(1)}, ${above} of ${count} above 1e-13`;
    },
  };
}

function americanWork(name: string, level: Accuracy, id: string, goal: number): Work {
  const contracts = americanContracts();
  const count = contracts.spot.length;
  const out = new Float64Array(count);
  return {
    name,
    program: 'c_american',
    against: [{ id, goal }],
    operations: count,
    rounds: 15,
    agreement: 1e-4,
    run: () => (americanPriceInto(out, contracts, level), sum(out)),
    accuracy: () => {
      const exact = new Float64Array(count);
      americanPriceInto(exact, contracts, 'exact');
      const own = `rms error ${rootMeanSquare(out, exact).toExponential(1)}, worst ${worst(out, exact).toExponential(1)} against our exact level`;
      try {
        const reference = Float64Array.from(readFileSync(AMERICAN_REFERENCE, 'utf8').trim().split('\n'), Number);
        return `${own}; ${rootMeanSquare(out, reference).toExponential(1)} and ${worst(out, reference).toExponential(1)} against the baseline's reference`;
      } catch {
        return own;
      }
    },
  };
}

const rootMeanSquare = (a: Float64Array, b: Float64Array) =>
  Math.sqrt(sum(a.map((x, i) => (x - b[i]) ** 2)) / a.length);
const worst = (a: Float64Array, b: Float64Array) => Math.max(...a.map((x, i) => Math.abs(x - b[i])));

function sviWork(label: string, noise: number): Work {
  const slices = sviSlices(noise);
  const weight = new Float64Array(slices[0].volatility.length).fill(1);
  let errors: number[] = [];
  return {
    name: `d. raw SVI slice fit, ${label}`,
    program: 'd_svi',
    against: [{ id: `d.ql.svi ${label} unweighted`, goal: 0.15 }],
    operations: slices.length,
    rounds: 60,
    warmup: 200,
    agreement: Infinity,
    run: () => {
      errors = [];
      let total = 0;
      for (const slice of slices) {
        const fit = fitSviRaw({ ...slice, weight, timeToExpiry: SVI_YEARS });
        if (!fit.ok) throw new Error(`a slice was not fitted: ${fit.reason}`);
        const { a, b, rho, m, sigma } = fit.parameters;
        total += a + b + sigma + rho + m;
        errors.push(fit.rmse);
      }
      return total;
    },
    accuracy: () => {
      // Told from the parameters, not from what the fit says of itself.
      const rms = slices.map((slice) => {
        const fit = fitSviRaw({ ...slice, weight, timeToExpiry: SVI_YEARS });
        if (!fit.ok) return Infinity;
        const smile = sviRawSmile(fit.parameters, SVI_YEARS);
        const fitted = slice.logMoneyness.map((k) => Math.sqrt(smile.totalVariance(k) / SVI_YEARS));
        return rootMeanSquare(fitted, slice.volatility);
      });
      rms.sort((x, y) => x - y);
      return `median rms ${rms[rms.length >> 1].toExponential(2)}, worst ${rms[rms.length - 1].toExponential(2)}`;
    },
  };
}

const CHAIN = { expiries: 12, strikes: 60, repeats: 50 };

function chainWork(): Work {
  const strike = Float64Array.from({ length: CHAIN.strikes }, (_, k) => 60 + (4 / 3) * k);
  const volatility = strike.map((k) => {
    const m = k / 100 - 1;
    return 0.2 + 0.1 * m * m - 0.05 * m;
  });
  const slices = Array.from({ length: CHAIN.expiries }, (_, e) => ({
    slice: { spot: 100, timeToExpiry: (7 + 30 * e) / 365, rate: 0.04, dividendYield: 0.015, strike, volatility },
    call: firstGreeksColumns(CHAIN.strikes),
    put: firstGreeksColumns(CHAIN.strikes),
  }));
  return {
    name: 'e. chain of 1,440 options, price + five Greeks, per option',
    program: 'e_chain',
    against: [{ id: 'e.ql.chain(per option)', goal: 0.25 }],
    operations: CHAIN.repeats * CHAIN.expiries * CHAIN.strikes * 2,
    rounds: 15,
    agreement: 1e-12,
    run: () => {
      for (let repeat = 0; repeat < CHAIN.repeats; repeat++) {
        for (const { slice, call, put } of slices) europeanSliceGreeksInto(call, put, slice);
      }
      return slices.reduce((s, { call, put }) => s + total(call) + total(put), 0);
    },
  };
}

export function works(): Work[] {
  return [
    ...europeanWorks(),
    impliedVolatilityWork(),
    americanWork('c. American, fast level', 'fast', 'c.ql.qdfp.fast', 0.6),
    americanWork('c. American, default level', 'default', 'c.ql.qdfp.accurate', 0.4),
    sviWork('exact', 0),
    sviWork('noise 20bp', 0.002),
    chainWork(),
  ];
}
