import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { studentTCdf } from '../../src/math/index.ts';
import {
  dieboldMariano,
  fitGarch,
  fitHar,
  type ForecastHistory,
  FORECAST_MODELS,
  forecaster,
  garchForecast,
  harForecast,
  jumpShare,
  judgeForecasts,
  qlike,
} from '../../src/volatility/index.ts';
import { normalNumbers } from './normal-numbers.ts';

const exchangeRate = readFileSync(new URL('../reference/exchange-rate-garch.csv', import.meta.url), 'utf8')
  .trim()
  .split('\n')
  .slice(1)
  .map(Number);

test('GARCH(1,1) of the exchange rate to the digits that its benchmark prints', () => {
  // Fiorentini, G., Calzolari, G. & Panattoni, L. (1996). Analytic derivatives and the computation of GARCH estimates. Journal of
  // Applied Econometrics 11(4), 399-417: values and errors by the Hessian, from memory of the publication.
  const fit = fitGarch(exchangeRate, 'garch');
  const printed = { mu: -0.00619041, omega: 0.0107613, alpha: 0.153134, beta: 0.805974 };
  const errors = { mu: 0.00846212, omega: 0.00285271, alpha: 0.0265228, beta: 0.0335527 };
  for (const name of ['mu', 'omega', 'alpha', 'beta'] as const) {
    expect(Math.abs((fit?.parameters[name] ?? NaN) / printed[name] - 1), name).toBeLessThan(1e-5);
    expect(Math.abs((fit?.standardErrors[name] ?? NaN) / errors[name] - 1), name).toBeLessThan(1e-5);
  }
  expect(fit?.logLikelihood).toBeCloseTo(-1106.608, 3);
  // The unit of returns is the fit's own.
  const decimals = fitGarch(
    exchangeRate.map((r) => r / 100),
    'garch',
  );
  expect(decimals?.parameters.alpha).toBeCloseTo(fit?.parameters.alpha ?? NaN, 6);
  // More freedom is never less likely; too few returns, or none that move, have no fit.
  expect(fitGarch(exchangeRate, 'gjr')?.logLikelihood).toBeGreaterThan(fit?.logLikelihood ?? NaN);
  expect(fitGarch(exchangeRate.slice(0, 99), 'garch')).toBeUndefined();
  expect(fitGarch(new Float64Array(300), 'gjr')).toBeUndefined();
});

test('fits find the parameters that made the returns, within three of their errors', () => {
  const normal = normalNumbers(11);
  const made = { omega: 0.02, alpha: 0.04, gamma: 0.1, beta: 0.88 };
  let variance = made.omega / (1 - made.alpha - made.gamma / 2 - made.beta);
  const returns = Array.from({ length: 6000 }, () => {
    const r = Math.sqrt(variance) * normal();
    variance = made.omega + (made.alpha + (r < 0 ? made.gamma : 0)) * r * r + made.beta * variance;
    return r;
  });
  const fit = fitGarch(returns, 'gjr');
  for (const name of ['omega', 'alpha', 'gamma', 'beta'] as const) {
    const gap = Math.abs((fit?.parameters[name] ?? NaN) - made[name]);
    expect(gap / (fit?.standardErrors[name] ?? NaN), name).toBeLessThan(3);
  }
  if (!fit) throw new Error('no fit');
  // Far ahead is the long variance; one session ahead the next one's.
  expect(garchForecast(fit, fit.nextVariance, 1)).toBeCloseTo(Math.sqrt(252 * fit.nextVariance), 12);
  expect(garchForecast(fit, fit.nextVariance, 1e6) / Math.sqrt(252 * fit.longVariance)).toBeCloseTo(1, 3);
});

test('HAR of variances that follow its own equation gives that equation back', () => {
  // Without noise the least squares are exact: day, week and month weigh 0.3, 0.3 and 0.2 above a constant of 0.01.
  const variances = Array.from({ length: 22 }, (_, i) => 0.02 + 0.015 * Math.sin(i) + 0.002 * (i % 5));
  const mean = (end: number, span: number) => variances.slice(end - span, end).reduce((s, v) => s + v / span, 0);
  while (variances.length < 100) {
    const n = variances.length;
    variances.push(0.01 + 0.3 * variances[n - 1] + 0.3 * mean(n, 5) + 0.2 * mean(n, 22));
  }
  const fit = fitHar(variances, { end: 99, horizon: 1 });
  for (const [i, weight] of [0.01, 0.3, 0.3, 0.2].entries()) expect(fit?.coefficients[i]).toBeCloseTo(weight, 6);
  if (!fit) throw new Error('no fit');
  expect(harForecast(fit, variances, 40)).toBeCloseTo(Math.sqrt(252 * variances[41]), 6);
  // No further than what came before: the last session's equation rises above all that was fitted.
  expect(harForecast(fit, variances, 99)).toBe(Math.sqrt(252 * fit.range[1]));
  expect(fitHar(variances, { end: 80, horizon: 1 })).toBeUndefined();
});

test('QLIKE, the test of Diebold and Mariano, Student and bipower in cases worked by hand', () => {
  expect(qlike(0.04, 0.02)).toBeCloseTo(2 - Math.log(2) - 1, 14);
  // Differences 1, 2, 3, 6 at horizon 2: mean 3, autocovariances (4 + 1 + 0 + 9) / 4 = 3.5 and (2 + 0 + 0) / 4 = 0.5, long variance
  // 3.5 + 2 x 0.5 = 4.5; statistic 3 / root(4.5 / 4) = 2.828427, corrected by root((4 + 1 - 4 + 2 x 1 / 4) / 4) = root(0.375).
  const tested = dieboldMariano([1, 2, 3, 6], 2);
  expect(tested?.statistic).toBeCloseTo((3 / Math.sqrt(4.5 / 4)) * Math.sqrt(0.375), 12);
  // Student's t with 3 degrees: chance below is 1/2 + (x / (1 + x^2) + atan x) / pi with x = t / root 3.
  const x = (tested?.statistic ?? NaN) / Math.sqrt(3);
  expect(tested?.probability).toBeCloseTo(2 * (0.5 - (x / (1 + x * x) + Math.atan(x)) / Math.PI), 12);
  // Differences that take turns have a long variance below 0: no verdict.
  expect(dieboldMariano([1, -1, 1, -1, 1, -1], 2)).toBeUndefined();
  // Fisher's table of Student's t (values from memory): 97.5 % of 1, 10 and 30 degrees.
  for (const [degrees, t] of [
    [1, 12.7062047362],
    [10, 2.228138852],
    [30, 2.0422724563],
  ]) {
    expect(studentTCdf(t, degrees)).toBeCloseTo(0.975, 10);
    expect(studentTCdf(-t, degrees)).toBeCloseTo(0.025, 10);
  }
  expect(studentTCdf(0, 5)).toBe(0.5);
  // Returns 1, -1, 1, -1 %: realized 4, three products of 1 are 3 x 4/3 x pi/2 = 2 pi, share 1 - pi/2, not cut at 0.
  const even = jumpShare([[0.01, -0.01, 0.01, -0.01]]);
  expect(even?.realizedVariance).toBeCloseTo(4e-4, 16);
  expect(even?.share).toBeCloseTo(1 - Math.PI / 2, 12);
  expect(jumpShare([[0, 0, 0, 0], [0.01]])).toBeUndefined();
});

test('without jumps the bipower share is 0 on average and spreads by its error; a jump of half the variance shows', () => {
  const normal = normalNumbers(3);
  const draws = Array.from({ length: 600 }, () =>
    jumpShare(Array.from({ length: 5 }, () => Array.from({ length: 34 }, () => 0.002 * normal()))),
  );
  const shares = draws.map((d) => d?.share ?? NaN);
  const mean = shares.reduce((s, v) => s + v / shares.length, 0);
  const spread = Math.sqrt(shares.reduce((s, v) => s + (v - mean) ** 2 / shares.length, 0));
  const told = draws.reduce((s, d) => s + (d?.standardError ?? NaN) / draws.length, 0);
  expect(Math.abs(mean)).toBeLessThan(0.01);
  // Over five sessions about 6 %: a share under 13 % is noise.
  expect(spread / told).toBeGreaterThan(0.85);
  expect(spread / told).toBeLessThan(1.15);
  expect(2 * told).toBeGreaterThan(0.11);
  const jumped = Array.from({ length: 5 }, () => Array.from({ length: 34 }, () => 0.002 * normal()));
  jumped[2][17] += 0.002 * Math.sqrt(170);
  expect(jumpShare(jumped)?.share).toBeGreaterThan(0.35);
});

/** Returns of GARCH with a variance that is seen nearly as it is, and an implied that is a tenth of volatility too high. */
function history(seed: number, sessions: number): ForecastHistory {
  const normal = normalNumbers(seed);
  const [omega, alpha, beta] = [2e-6, 0.1, 0.88];
  let variance = 1e-4;
  const returns = new Float64Array(sessions);
  const truth = new Float64Array(sessions + 1);
  for (let i = 0; i < sessions; i++) {
    truth[i] = variance;
    returns[i] = Math.sqrt(variance) * normal();
    variance = omega + alpha * returns[i] ** 2 + beta * variance;
  }
  truth[sessions] = variance;
  const variances = returns.map((_, i) => truth[i] * Math.exp(0.25 * normal() - 0.03125));
  const long = omega / (1 - alpha - beta);
  const implied = (i: number, h: number) =>
    1.1 * Math.sqrt(252 * (long + ((1 - 0.98 ** h) / 0.02 / h) * (truth[i + 1] - long)));
  return { returns, variances, implied };
}

test('a forecast that knows the truth but adds a tenth is told from the naive one, GARCH serves better than it', () => {
  const [judged] = judgeForecasts(history(5, 800), { end: 799, horizons: [5] });
  const of = (model: string) => judged.records.find((r) => r.model === model);
  expect(of('implied')?.bias).toBeGreaterThan(0);
  expect(of('garch')?.qlike ?? NaN).toBeLessThan(of('naive')?.qlike ?? NaN);
  expect(of('garch')?.versusNaive?.probability ?? NaN).toBeLessThan(0.05);
  expect(of('naive')?.versusNaive).toBeUndefined();
  // 800 - 126 windows of 5 sessions.
  expect(of('garch')?.independent).toBe((Math.floor(of('garch')?.count ?? NaN) / 5) | 0);
  // Of a quarter, so few do not overlap that nothing is said.
  const [long] = judgeForecasts(history(5, 800), { end: 799, horizons: [63] });
  expect(long.records.every((r) => r.versusNaive === undefined)).toBe(true);
});

test('what comes later changes no forecast and no judgement', () => {
  const whole = history(9, 520);
  for (const end of [260, 330, 401]) {
    const cut: ForecastHistory = {
      returns: whole.returns.slice(0, end + 1),
      variances: whole.variances.slice(0, end + 1),
      implied: (i, h) => (i > end ? NaN : whole.implied(i, h)),
    };
    const ask = { end, horizons: [1, 10] };
    expect(judgeForecasts(cut, ask)).toEqual(judgeForecasts(whole, ask));
    const [a, b] = [cut, whole].map((h) => forecaster(h, end).forecast(end, 10));
    for (const model of FORECAST_MODELS) expect(a[model], model).toBe(b[model]);
  }
});
