import type { ExpiryPicture, Overview } from '../api/picture.ts';
import type { OddsSource, RangeExpiry } from '../api/range.ts';
import { VOLATILITY_SOURCE_NAMES } from '../theory/index.ts';
import { formula, type Measure, type Unit, type WorkingsInput } from './measure.ts';
import { explain, type Workings } from './workings.ts';

/** What each source of a probability is called. */
export const ODDS_SOURCE_NAMES: Readonly<Record<OddsSource, string>> = {
  ...VOLATILITY_SOURCE_NAMES,
  smile: 'fitted smile',
  index: '30-day model-free',
  forecast: 'forecast',
  history: 'own history',
};

/** What a source says of a price, as Workings take it up. */
export interface ExplainedOdds {
  source: OddsSource;
  level: number;
  side: 'below' | 'above';
  volatility: number | null;
  finish: number | null;
  touch: number | null;
  finishError: number | undefined;
  steps: readonly { name: string; change: number }[];
  reason: string | undefined;
}

interface RangeSubject {
  picture: Overview;
}
interface MoveSubject extends RangeSubject {
  range: RangeExpiry;
  expiry: ExpiryPicture;
}
interface OddsSubject extends RangeSubject {
  expiry: ExpiryPicture;
  odds: ExplainedOdds;
  smile: ExplainedOdds | undefined;
  drift: number;
}

const PRACTICE = 'Common practice, no source';
const BREEDEN =
  'Breeden, D. T. & Litzenberger, R. H. (1978). Prices of state-contingent claims implicit in option prices. Journal of Business 51(4), 621-651';

/** Identifier of a figure of Range: measure, then the expiry or source that it is of. */
export function rangeFigure(measure: string, ...of: (string | number)[]): string {
  return ['range', measure, ...of].join('~');
}

const given = (symbol: string, label: string, value: number | null, unit: Unit, source: string): WorkingsInput => ({
  ...{ symbol, label, value, unit, source },
});
const forwardInput = ({ expiry }: { expiry: ExpiryPicture }) =>
  given('F', 'forward', expiry.forward, 'price', `${expiry.forwardSource} of this expiry`);
const atmInput = ({ expiry }: { expiry: ExpiryPicture }) =>
  given('σ', 'at the money', expiry.atm, 'volatility', 'fitted smile');
const timeInput = ({ expiry }: { expiry: ExpiryPicture }) =>
  given('T', 'years to expiry', expiry.years, 'years', 'ACT/365 by minutes');
const coverageInput =
  (of: 'straddle' | 'oneSigma' | 'meanAbsolute' | 'varianceMove') =>
  ({ range }: MoveSubject) =>
    given('', 'ends within it', range.coverages[of].coverage, 'probability', 'law of the fitted smile');

const MOVE_MEASURES: readonly Measure<MoveSubject>[] = [
  {
    id: 'straddle',
    label: 'straddle at the forward',
    unit: 'price',
    definition: 'What put and call struck at the forward cost together at mid: the move that buyers pay for.',
    absence: 'where a quote of the strikes beside the forward is not good',
    derivation: {
      kind: 'fit',
      text: 'mids of the two straddles around the forward, on a line between them',
      core: 'core/surface: forwardStraddle',
    },
    source: PRACTICE,
    value: ({ range }) => range.straddle,
    inputs: (s) => [forwardInput(s), coverageInput('straddle')(s)],
  },
  {
    id: 'oneSigma',
    label: 'one standard deviation',
    unit: 'price',
    definition: 'Volatility at the money over the time that is left: about two thirds of outcomes end within it.',
    absence: 'without a volatility at the money',
    derivation: formula('F σ √T'),
    source: PRACTICE,
    value: ({ range }) => range.oneSigma,
    inputs: (s) => [forwardInput(s), atmInput(s), timeInput(s), coverageInput('oneSigma')(s)],
  },
  {
    id: 'meanAbsolute',
    label: 'mean absolute move',
    unit: 'price',
    definition: 'Mean distance from the forward at expiry under the smile: what its straddle is worth undiscounted.',
    absence: 'without a smile',
    derivation: formula('2 F (2 N(σ √T / 2) − 1)'),
    source: BREEDEN,
    value: ({ range }) => range.meanAbsolute,
    inputs: (s) => [forwardInput(s), atmInput(s), timeInput(s), coverageInput('meanAbsolute')(s)],
  },
  {
    id: 'varianceMove',
    label: 'variance-swap move',
    unit: 'price',
    definition: 'Root of the variance of the whole smile, tails as well, over the time that is left.',
    absence: 'of a level, or where a wing allows arbitrage',
    derivation: { kind: 'fit', text: 'over all strikes of the fitted smile', core: 'core/surface: smileVariance' },
    source: 'Gatheral, J. (2006). The Volatility Surface, equation 11.5',
    value: ({ range }) => range.varianceMove,
    inputs: (s) => [forwardInput(s), timeInput(s), coverageInput('varianceMove')(s)],
  },
  {
    id: 'dailyMove',
    label: 'implied daily move',
    unit: 'price',
    definition: 'One standard deviation of a session at the volatility at the money.',
    absence: 'without a volatility at the money',
    derivation: formula('F σ / √252'),
    source: PRACTICE,
    value: ({ range }) => range.dailyMove,
    inputs: (s) => [forwardInput(s), atmInput(s)],
  },
  ...(['low', 'high'] as const).map((end): Measure<MoveSubject> => ({
    id: end,
    label: end === 'low' ? 'lower end of the range' : 'upper end of the range',
    unit: 'price',
    definition: 'The price beyond which the law of the smile leaves half of what is not covered.',
    absence: 'without a smile',
    derivation: { kind: 'fit', text: 'quantile of the law of the smile', core: 'core/probability: centralRange' },
    source: BREEDEN,
    value: ({ range }) => range.ranges[0]?.[end] ?? null,
    inputs: (s) => [
      forwardInput(s),
      given('', 'covered', s.range.ranges[0]?.coverage ?? null, 'probability', 'chosen'),
      given('', 'listed next below', s.range.ranges[0]?.[`${end}Listed`][0] ?? null, 'price', 'strikes'),
      given('', 'listed next above', s.range.ranges[0]?.[`${end}Listed`][1] ?? null, 'price', 'strikes'),
    ],
  })),
];

const ODDS_MEASURES: readonly Measure<OddsSubject>[] = [
  {
    id: 'finish',
    label: 'chance to end beyond',
    unit: 'probability',
    definition: ({ odds }) =>
      `Chance that the price ends ${odds.side} the level by expiry, ${ODDS_SOURCE_NAMES[odds.source]}.`,
    absence: 'where the source has nothing to say',
    derivation: ({ odds }) =>
      odds.source === 'smile' || odds.source === 'borrowed'
        ? { kind: 'fit', text: 'N(d₂) of the strike and the slope of the smile', core: 'core/probability: lawAbove' }
        : odds.source === 'history'
          ? { kind: 'fit', text: 'share of drawn paths', core: 'core/probability: historyPaths' }
          : odds.side === 'above'
            ? formula('N((ln(F / K) + μ T) / (σ √T) − σ √T / 2)')
            : formula('1 − N((ln(F / K) + μ T) / (σ √T) − σ √T / 2)'),
    source: ({ odds }) =>
      odds.source === 'history'
        ? 'Barone-Adesi, G., Giannopoulos, K. & Vosper, L. (1999). Journal of Futures Markets 19(5), 583-602'
        : BREEDEN,
    value: ({ odds }) => odds.finish,
    inputs: (s) => oddsInputs(s),
    note: ({ odds, smile }) =>
      odds.source === 'smile' || odds.finish === null || !smile?.finish
        ? odds.reason
        : [odds.reason, differenceText(odds)].filter((part) => part !== undefined).join('; ') || undefined,
  },
  {
    id: 'touch',
    label: 'chance to touch, continuous paths',
    unit: 'probability',
    definition: ({ odds }) =>
      `Chance that the price is at the level at any moment before expiry, ${ODDS_SOURCE_NAMES[odds.source]}.`,
    absence: 'where the source has nothing to say',
    derivation: ({ odds }) =>
      odds.source === 'smile' || odds.source === 'borrowed'
        ? {
            kind: 'fit',
            text: 'local volatility of the smile, on two grids, extrapolated; never less than to end beyond',
            core: 'core/probability: touchOnSmile',
          }
        : odds.source === 'history'
          ? {
              kind: 'fit',
              text: 'share of drawn paths whose highs or lows reach it',
              core: 'core/probability: historyPaths',
            }
          : { kind: 'fit', text: 'reflection at the level', core: 'core/probability: touchProbability' },
    source: ({ odds }) =>
      odds.source === 'smile' || odds.source === 'borrowed'
        ? 'Dupire, B. (1994). Pricing with a smile. Risk 7(1), 18-20'
        : odds.source === 'history'
          ? 'Barone-Adesi, G., Giannopoulos, K. & Vosper, L. (1999). Journal of Futures Markets 19(5), 583-602'
          : 'Cox, D. R. & Miller, H. D. (1965). The Theory of Stochastic Processes, section 5.7',
    value: ({ odds }) => odds.touch,
    inputs: (s) => oddsInputs(s),
    note: ({ odds }) =>
      odds.source === 'smile' || odds.source === 'borrowed'
        ? 'The smile alone does not settle it: where the price jumps, it is less.'
        : odds.reason,
  },
];

function oddsInputs({ odds, expiry, drift }: OddsSubject): WorkingsInput[] {
  return [
    given('F', 'forward', expiry.forward, 'price', `${expiry.forwardSource} of this expiry`),
    given('K', 'level', odds.level, 'price', 'chosen'),
    given('σ', 'volatility', odds.volatility, 'volatility', ODDS_SOURCE_NAMES[odds.source]),
    given('T', 'years to expiry', expiry.years, 'years', 'ACT/365 by minutes'),
    given('μ', 'drift beyond the forward', drift, 'rate', drift === 0 ? 'none assumed' : 'typed'),
    ...(odds.finishError === undefined
      ? []
      : [given('', 'standard error', odds.finishError, 'probability', '10,000 paths')]),
    ...odds.steps.map((step) => given('', `of it by ${step.name}`, step.change, 'share', 'against the fitted smile')),
  ];
}

function differenceText({ steps }: ExplainedOdds): string | undefined {
  if (steps.length === 0) return undefined;
  return 'What tells it from the fitted smile is listed by cause; the parts add up to the whole.';
}

/** What Range has figures of. */
export interface ExplainedRange {
  picture: Overview;
  expiries: readonly ExpiryPicture[];
  ranges: readonly RangeExpiry[];
  /** Of the expiry in focus */
  rows: readonly ExplainedOdds[];
  focus: ExpiryPicture | undefined;
  drift: number;
}

/** Workings of a figure of Range by its identifier; undefined when there is none. */
export function explainRangeFigure(o: ExplainedRange, id: string): Workings | undefined {
  const [, name, of] = id.split('~');
  const { symbol } = o.picture.underlying;
  const range = o.ranges.find((r) => r.date === of);
  const expiry = o.expiries.find((e) => e.date === of);
  const move = MOVE_MEASURES.find((m) => m.id === name);
  if (move && range && expiry)
    return explain(move, { picture: o.picture, range, expiry }, id, `${symbol} ${expiry.date}`);
  const odds = o.rows.find((r) => r.source === of);
  const measure = ODDS_MEASURES.find((m) => m.id === name);
  if (!measure || !odds || !o.focus) return undefined;
  const smile = o.rows.find((r) => r.source === 'smile');
  const subject = { picture: o.picture, expiry: o.focus, odds, smile, drift: o.drift };
  return explain(measure, subject, id, `${symbol} ${o.focus.date}, ${odds.side} ${odds.level}`);
}
