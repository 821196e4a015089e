import { type LadderRung, type LadderTerms, optionLadder } from '@umwelt/core/pricing';
import { measure, timeText } from './measure.ts';

/* Values and first-order Greeks of an expiry's options: 60 strikes, both sides. */

const STRIKES = 60;
const UNDERLYING = 80;
const common = { exercise: 'american', underlying: UNDERLYING, timeToExpiry: 0.35, rate: 0.04 } as const;
const LADDERS: { name: string; terms: LadderTerms; goal: number }[] = [
  { name: 'with a yield', terms: { ...common, model: 'spot', dividendYield: 0.02 }, goal: 15 },
  { name: 'on a future', terms: { ...common, model: 'futures' }, goal: 15 },
  {
    name: 'with two cash dividends',
    terms: {
      ...common,
      model: 'spot',
      dividendYield: 0.02,
      dividends: [
        { time: 0.1, amount: 0.8 },
        { time: 0.3, amount: 0.8 },
      ],
    },
    goal: 150,
  },
];

/** Strikes from 55 to 182 % of the underlying, on a tilted smile. */
export function ladderRungs(): LadderRung[] {
  return (['put', 'call'] as const).flatMap((side) =>
    Array.from({ length: STRIKES }, (_, j): LadderRung => {
      const k = -0.6 + (1.2 * j) / (STRIKES - 1);
      return { side, strike: UNDERLYING * Math.exp(k), volatility: 0.25 - 0.1 * k + 0.05 * k * k };
    }),
  );
}

/** Prints the time of each ladder beside its goal. */
export function ladderFigures(): void {
  const rungs = ladderRungs();
  for (const { name, terms, goal } of LADDERS) {
    const run = () => optionLadder(terms, rungs).reduce((sum, value) => sum + (value?.price ?? NaN), 0);
    const { fastest, median } = measure(1, 41, run, 20);
    console.log(
      `ladder of ${rungs.length} American options ${name}, value and five Greeks: fastest ${timeText(fastest)}, median ${timeText(median)} (goal ${goal} ms at the median: ${median <= goal * 1e6 ? 'reached' : 'MISSED'})`,
    );
  }
}
