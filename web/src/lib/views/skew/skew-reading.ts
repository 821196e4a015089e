import { smileShapeName, smileSpan } from '@umwelt/core/surface';
import { shownExpiries } from '../../market/index.ts';
import { dateText, numberText, percentileText, pointsText, volatilityText } from '../../ui/format.ts';
import { expirySmile, type SameDistanceRow } from '../../theory/index.ts';
import { figureId, figureScale, figureText } from '../../measures/index.ts';
import type { BorrowState } from '../../api/borrow.ts';
import type { AsOfContext } from '../../api/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import { borrowSentence } from './borrow-sentence.ts';
import { fitSentence, judgedSentences, outlierSentences } from '../../shell/reading/judged-sentences.ts';
import { levelSentence } from '../../shell/reading/level-sentence.ts';
import type { Sentence } from '../../shell/reading/sentence.ts';

/** Name of the smile's shape at 30 days, and where its figures stand in the year. */
function monthShapeSentence({ shape }: Picture): Sentence | undefined {
  if (!shape) return undefined;
  const placed = (name: 'riskReversal' | 'butterfly', words: string): Sentence => {
    const { value, standing } = shape[`${name}25`];
    const parts: Sentence = [`${words} `, { figure: `${name}30`, text: pointsText(value) }, ' points'];
    if (standing) parts.push(', the ', { figure: `${name}30Percentile`, text: percentileText(standing.percentile) });
    return parts;
  };
  const words = {
    downside: 'skewed to the downside',
    upside: 'skewed to the upside',
    'symmetric smile': 'symmetric',
    flat: 'flat',
  };
  const count = shape.riskReversal25.standing?.count;
  return [
    `At 30 days the smile is ${words[shape.name]}: `,
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
  const smile = expirySmile(expiry);
  const span = smile && expiry.smile ? smileSpan(smile, expiry.smile.range) : undefined;
  const shape = smileShapeName({ atm, riskReversal25: rr, butterfly25: bf }, span);
  if (shape === 'downside' || shape === 'upside') {
    return [`${when} is skewed to the ${shape}: 25-delta risk reversal `, figure, ' points.'];
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

/** A put and a call the same distance from the forward, in price and volatility, as the table has them. */
function sameDistanceSentence(picture: Picture, { distance, put, call }: SameDistanceRow): Sentence | undefined {
  if (!put?.price || !call?.price) return undefined;
  const scale = figureScale(picture);
  const money = (value: number) => figureText(value, 'premium', scale);
  return [
    `A put ${distance} % below the forward, at ${numberText(put.strike, 2)}, is worth ${numberText(put.price / call.price, 2)} times the call ${distance} % above, at ${numberText(call.strike, 2)}: ${money(put.price)} against ${money(call.price)} ${picture.underlying.currency}, at ${volatilityText(put.volatility)} against ${volatilityText(call.volatility)} %.`,
  ];
}

/**
 * Sentences beside Skew.
 * @param o.told the row of the same-distance table that is told, with its values; undefined while they are computed
 */
export function skewReading(
  picture: Picture,
  focus: ExpiryPicture | undefined,
  context: AsOfContext,
  { borrow, told }: { borrow?: BorrowState | null; told?: SameDistanceRow } = {},
): Sentence[] {
  const sentences: (Sentence | undefined)[] = [levelSentence(picture), monthShapeSentence(picture)];
  if (focus) sentences.push(shapeSentence(picture, focus));
  if (told) sentences.push(sameDistanceSentence(picture, told));
  if (borrow) sentences.push(borrowSentence(picture, focus, borrow));
  sentences.push(...outlierSentences(picture, context));
  sentences.push(...judgedSentences(picture, shownExpiries(picture, context), context));
  if (focus) sentences.push(fitSentence(focus, picture));
  return sentences.filter((s) => s !== undefined);
}
