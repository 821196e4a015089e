import { smileShapeName } from '@umwelt/core/surface';
import { shownExpiries } from '../figures/expiry-choice.ts';
import { fittedVolatility } from '../figures/expiry-smile.ts';
import {
  dateText,
  numberText,
  ordinalText,
  pointsText,
  strikeText,
  tickDecimals,
  volatilityText,
} from '../figures/format.ts';
import { theoryPrice } from '../figures/chain-rows.ts';
import { marketEarlyExercise } from '../figures/early-exercise.ts';
import { figureId } from '../measures/workings.ts';
import type { BorrowState } from '../schema/borrow.ts';
import type { AsOfContext } from '../schema/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../schema/picture.ts';
import { borrowSentence } from './borrow-sentence.ts';
import { fitSentence, judgedSentences, outlierSentences } from './judged-sentences.ts';
import { levelSentence } from './level-sentence.ts';
import type { Sentence, SentencePart } from './sentence.ts';

/** Name of the smile's shape at 30 days, and where its figures stand in the year. */
function monthShapeSentence({ shape }: Picture): Sentence | undefined {
  if (!shape) return undefined;
  const placed = (name: 'riskReversal' | 'butterfly', words: string): Sentence => {
    const { value, standing } = shape[`${name}25`];
    const parts: Sentence = [`${words} `, { figure: `${name}30`, text: pointsText(value) }, ' points'];
    if (standing)
      parts.push(', the ', { figure: `${name}30Percentile`, text: ordinalText(standing.percentile) }, ' percentile');
    return parts;
  };
  const words = { downside: 'downside', upside: 'upside', 'symmetric smile': 'a symmetric smile', flat: 'flat' };
  const count = shape.riskReversal25.standing?.count;
  return [
    `At 30 days the shape is ${words[shape.name]}: `,
    ...placed('riskReversal', 'risk reversal'),
    '; ',
    ...placed('butterfly', 'butterfly'),
    count === undefined ? '.' : ` of ${count} sessions.`,
  ];
}

/** Side, if any, that the smile leans to: |RR25| over 5 % of the level (rule of the design). */
function shapeSentence(picture: Picture, expiry: ExpiryPicture): Sentence | undefined {
  const { atm, riskReversal25: rr, butterfly25: bf, date } = expiry;
  if (atm === null || rr === null || bf === null) return undefined;
  const when = dateText(date, picture.asOf);
  const figure = { figure: figureId('riskReversal25', date), text: pointsText(rr) };
  const shape = smileShapeName({ atm, riskReversal25: rr, butterfly25: bf });
  if (shape === 'downside' || shape === 'upside') {
    return [
      `${shape === 'downside' ? 'The downside' : 'The upside'} is dearer: 25-delta risk reversal in ${when} `,
      figure,
      ' points.',
    ];
  }
  const butterfly = { figure: figureId('butterfly25', date), text: pointsText(bf) };
  return [
    `${when} is ${shape === 'flat' ? 'flat' : 'a symmetric smile'}: risk reversal `,
    figure,
    ', butterfly ',
    butterfly,
    ' points.',
  ];
}

/** A put and a call the same distance from the forward, in price and volatility; theory on the fitted smile. */
function sameDistanceSentence(picture: Picture, expiry: ExpiryPicture): Sentence | undefined {
  const at = (share: number, side: 'put' | 'call') => {
    const target = expiry.forward * (1 + share);
    const strike = expiry.strikes.reduce((a, b) => (Math.abs(b - target) < Math.abs(a - target) ? b : a));
    const volatility = fittedVolatility(expiry, strike);
    const [low, high] = expiry.smile?.range ?? [0, 0];
    const k = Math.log(strike / expiry.forward);
    if (volatility === null || k < low || k > high || Math.abs(strike / target - 1) > 0.01) return undefined;
    return {
      strike,
      side,
      volatility,
      price: theoryPrice(expiry, { side, strike, volatility }, marketEarlyExercise(expiry)),
    };
  };
  const share = expiry.days < 20 ? 0.02 : 0.05;
  const put = at(-share, 'put');
  const call = at(share, 'call');
  if (!put || !call) return undefined;
  const decimals = tickDecimals(picture.underlying.optionTick);
  const price = (q: typeof put): SentencePart => ({
    figure: figureId('theory', expiry.date, q.strike, q.side),
    text: numberText(q.price, decimals),
  });
  const volatility = (q: typeof put): SentencePart => ({
    figure: figureId('fitVolatility', expiry.date, q.strike, q.side),
    text: `${volatilityText(q.volatility)} %`,
  });
  return [
    `The ${strikeText(put.strike)} put, ${share * 100} % below, is worth ${numberText(put.price / call.price, 1)} times the ${strikeText(call.strike)} call above (`,
    price(put),
    ' against ',
    price(call),
    '), at ',
    volatility(put),
    ' against ',
    volatility(call),
    '.',
  ];
}

/** Sentences beside Skew. */
export function skewReading(
  picture: Picture,
  focus: ExpiryPicture | undefined,
  context: AsOfContext,
  borrow?: BorrowState | null,
): Sentence[] {
  const sentences: (Sentence | undefined)[] = [levelSentence(picture), monthShapeSentence(picture)];
  if (focus) sentences.push(shapeSentence(picture, focus), sameDistanceSentence(picture, focus));
  if (borrow) sentences.push(borrowSentence(picture, focus, borrow));
  sentences.push(...outlierSentences(picture, context));
  sentences.push(...judgedSentences(picture, shownExpiries(picture, context), context));
  if (focus) sentences.push(fitSentence(focus, picture));
  return sentences.filter((s) => s !== undefined);
}
