import { GAP_CAUSES, type MarketGap } from '@umwelt/core/whatif';
import { type DecayLine, optionOf, type PricerDecay, type PricerFigures } from '../../theory/index.ts';
import { numberText, probabilityText, signedText, significantText } from '../../ui/format.ts';
import { exerciseValue } from '@umwelt/core/pricing';
import { type FigureScale, figureText, premiumDecimals, pricerFigureId } from '../../measures/index.ts';
import type { PricerInputs } from '../../api/pricer-inputs.ts';
import type { Sentence } from '../../shell/reading/sentence.ts';

interface Subject {
  inputs: PricerInputs;
  shown: PricerFigures;
  /** Multiplies values per unit of underlying */
  factor: number;
  scale: FigureScale;
  pointWords: string;
  /** Absent where no market says it */
  currency?: string;
}

/** What the numbers of the chosen side say, in sentences. */
export function pricerReading(o: Subject): Sentence[] {
  const { inputs, shown, factor } = o;
  const decimals = premiumDecimals(o.scale);
  const { greeks, early } = shown[inputs.side];
  const figure = (measure: string, text: string) => ({ figure: pricerFigureId(measure, inputs.side), text });
  const money = (value: number) => `${numberText(value * factor, decimals)}${o.currency ? ` ${o.currency}` : ''}`;
  const now = exerciseValue(optionOf(inputs));
  const sentences: Sentence[] = [
    [
      `The ${inputs.side} is worth `,
      figure('price', money(greeks.price)),
      now > 0 ? `, ${money(now)} of it on exercise now` : ', all of it time value',
      '; it ends in the money with ',
      figure('probabilityItm', probabilityText(greeks.probabilityItm)),
      ' chance under this volatility.',
    ],
  ];
  if (greeks.theta !== 0 && greeks.vega !== 0) {
    const points = -greeks.theta / greeks.vega;
    sentences.push([
      greeks.theta * factor < 0 ? 'One day costs ' : 'One day brings ',
      figure('theta', figureText(Math.abs(greeks.theta * factor), 'sensitivity', o.scale).replace('+', '')),
      '; a change of volatility by ',
      figure('vega', `${points > 0 ? '+' : ''}${significantText(points, 2)} ${o.pointWords}`),
      ' makes up for it.',
    ]);
  }
  if (inputs.exercise === 'american') {
    const premium = numberText(Math.abs(early.premium * factor), decimals);
    sentences.push(
      Number(Math.abs(early.premium * factor).toFixed(decimals)) === 0
        ? ['The right to exercise early adds ', figure('earlyPremium', 'nothing'), ' to it.']
        : early.boundary === undefined
          ? [...earlyWords(factor), figure('earlyPremium', premium), '.']
          : [
              ...earlyWords(factor),
              figure('earlyPremium', premium),
              '; today it pays with the underlying at or ',
              inputs.side === 'put' ? 'below ' : 'above ',
              figure('exerciseBoundary', figureText(early.boundary, 'price', o.scale)),
              '.',
            ],
    );
  }
  return sentences;
}

/** To whoever is short the right belongs to the buyer. */
function earlyWords(factor: number): Sentence {
  return [factor < 0 ? "The buyer's right to exercise early is of that " : 'Of that the right to exercise early is '];
}

/** Where the market stands against theory, and what most of the gap is. */
export function gapReading(gap: MarketGap, factor: number, decimals: number): Sentence {
  const money = (value: number) => numberText(Math.abs(value) * factor, decimals);
  const whole = gap.market - gap.theory;
  const [first, second] = [...GAP_CAUSES].sort((a, b) => Math.abs(gap.parts[b]) - Math.abs(gap.parts[a]));
  const told = (cause: (typeof GAP_CAUSES)[number]) => `${cause} ${signedText(gap.parts[cause] * factor, decimals)}`;
  return [
    `The mid stands ${money(whole)} ${whole < 0 ? 'below' : 'above'} the value from spot, curve and this volatility: `,
    `${told(first)}, ${told(second)}, the rest ${signedText((whole - gap.parts[first] - gap.parts[second]) * factor, decimals)}.`,
  ];
}

/** What a week takes from each expiry. */
export function decayReading(decay: PricerDecay, factor: number, decimals: number): Sentence {
  const days = Math.min(7, decay.near.days[decay.near.days.length - 1]);
  const loss = (line: DecayLine) => {
    const now = line.values[2][0];
    const then = valueAt(line, days);
    return `${signedText((then - now) * factor, decimals)} (${signedText((100 * (then - now)) / now, 0)} %)`;
  };
  return [
    `In ${numberText(days, days % 1 === 0 ? 0 : 1)} days this expiry changes by ${loss(decay.near)} and the later one by ${loss(decay.far)}, if nothing else moves.`,
  ];
}

/** Value at some days from now, between the line's points. */
function valueAt(line: DecayLine, days: number): number {
  const values = line.values[2];
  const i = Math.max(
    1,
    line.days.findIndex((d) => d >= days),
  );
  const share = (days - line.days[i - 1]) / (line.days[i] - line.days[i - 1]);
  return values[i - 1] + share * (values[i] - values[i - 1]);
}
