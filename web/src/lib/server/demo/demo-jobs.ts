import { dateText, intradayDays, keptDays, TODAY_DAY, UNIVERSE } from '@umwelt/market/veldmar';
import type { JobRequest } from '../jobs/queue.ts';
import { demoMarket } from './demo-base.ts';

/** The whole demo, or as much of it as the browser tests name. */
export type DemoExtent = 'whole' | 'small';

/** Jobs that fill the demo after today's chains, in the order in which they matter to who looks at it. */
export function demoJobs(extent: DemoExtent): JobRequest[] {
  if (extent === 'small') return [...NAMED_SYMBOLS.map((symbol) => past(symbol, keptDays(symbol))), ...namedDays()];
  const whole = UNIVERSE.map(({ symbol }) => past(symbol, demoMarket().history.sessions));
  return [...whole, ...flagshipYear(), ...quarterHours(), ...otherChains()];
}

/** Measures of all these sessions, whether or not their chains are kept: a page shows what stands against its past. */
function past(symbol: string, days: readonly number[]): JobRequest {
  return request('demo-measures', symbol, days, { priority: 2000, weight: 0.02 });
}

/** Underlyings with a year of measures in the small demo. */
const NAMED_SYMBOLS = ['VM50', 'VFUND', 'KELPA', 'MERRO', 'TYNDA', 'SKALD', 'TERN', 'RYE'] as const;
/** Days with chains in the small demo besides today: one to step back to, one far back, the days around a readout. */
const NAMED_DAYS: Partial<Record<string, readonly string[]>> = {
  TYNDA: ['2030-08-12', '2031-02-27', '2031-02-28'],
  RYE: ['2031-03-12', '2031-03-14'],
};
const NAMED_DAYS_OF_OTHERS = ['2031-03-12', '2031-03-13'];

function namedDays(): JobRequest[] {
  return NAMED_SYMBOLS.flatMap((symbol) => {
    const days = keptDays(symbol).filter((day) => (NAMED_DAYS[symbol] ?? NAMED_DAYS_OF_OTHERS).includes(dateText(day)));
    return days.map((day) => request('demo-chains', symbol, [day], { priority: 1000, weight: 5 }));
  });
}

/** Days grouped by month. */
function byMonth(days: number[]): number[][] {
  const months = new Map<string, number[]>();
  for (const day of days) {
    const month = dateText(day).slice(0, 7);
    months.set(month, [...(months.get(month) ?? []), day]);
  }
  return [...months.values()];
}

function request(
  kind: 'demo-chains' | 'demo-measures',
  symbol: string,
  days: readonly number[],
  o: { priority: number; weight?: number },
): JobRequest {
  const [from, to] = [days[0], days[days.length - 1]];
  const span = from === to ? dateText(from) : `${dateText(from)} to ${dateText(to)}`;
  return {
    label: `${symbol} ${kind === 'demo-chains' ? 'chains' : 'measures'} ${span}`,
    payload: { kind, symbol, from, to },
    priority: o.priority,
    weight: (o.weight ?? 1) * days.length,
  };
}

/** Months of chains that a job stores: one partition each, and seconds of work. */
const MONTHS_PER_JOB = 3;

/** Closing chains of the flagships' year, newest first. */
function flagshipYear(): JobRequest[] {
  return UNIVERSE.filter((u) => u.isFlagship).flatMap(({ symbol }) => {
    const quarterly = new Set(intradayDays(symbol));
    const months = byMonth(keptDays(symbol).filter((day) => day !== TODAY_DAY && !quarterly.has(day))).reverse();
    const parts = months.filter((_, i) => i % MONTHS_PER_JOB === 0).map((_, i) => months.slice(MONTHS_PER_JOB * i));
    return parts.map((part, i) => {
      const days = part.slice(0, MONTHS_PER_JOB).reverse().flat();
      return request('demo-chains', symbol, days, { priority: 1000 - i });
    });
  });
}

/** Chains every quarter of an hour; their days' closes are among them. */
function quarterHours(): JobRequest[] {
  return UNIVERSE.flatMap(({ symbol }) =>
    intradayDays(symbol).map((day) => request('demo-chains', symbol, [day], { priority: 600, weight: 30 })),
  );
}

function otherChains(): JobRequest[] {
  return UNIVERSE.filter((u) => !u.isFlagship).map(({ symbol }) =>
    request(
      'demo-chains',
      symbol,
      keptDays(symbol).filter((day) => day !== TODAY_DAY),
      { priority: 500, weight: 0.4 },
    ),
  );
}
