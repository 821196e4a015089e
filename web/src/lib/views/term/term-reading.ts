import { dateText, numberText, volatilityText } from '../../ui/format.ts';
import { figureId } from '../../measures/index.ts';
import type { AsOfContext } from '../../api/as-of-context.ts';
import type { Overview } from '../../api/picture.ts';
import type { ScheduledEvent } from '../../api/surface-resource.ts';
import { carrySentence } from './carry-sentence.ts';
import { outlierSentences } from '../../shell/reading/judged-sentences.ts';
import { levelSentence } from '../../shell/reading/level-sentence.ts';
import { isTold } from './term-events.ts';
import type { Sentence } from '../../shell/reading/sentence.ts';

/** From here on the move that an event is priced at is worth a sentence. */
const LEAST_MOVE = 0.01;

/** The first event that is priced at a move, one that is told from nothing before others. */
function pricedEvent({ events }: Overview): ScheduledEvent | undefined {
  const moving = events.filter((e) => e.implied !== null && e.implied.move > LEAST_MOVE);
  return moving.find(isTold) ?? moving.at(0);
}

/** What a scheduled event is worth, and how much of the first expiry behind it that is. */
function eventSentence(picture: Overview, event: ScheduledEvent | undefined): Sentence | undefined {
  const first = event && picture.expiries.find((e) => e.expiry > event.instant && e.outlier === null);
  if (!event?.implied || !first || first.atm === null || first.exEvent === null) return undefined;
  const [low, high] = event.implied.interval;
  const percent = (move: number) => numberText(move * 100, 1);
  if (low === 0)
    return [
      `${event.label} on ${dateText(event.instant, picture.asOf)} would be priced as a move of `,
      { figure: figureId('eventMove', first.date), text: `±${percent(event.implied.move)} %` },
      `, but the 95 % interval reaches from 0 to ${percent(high)} %: these expiries do not tell it from nothing, and volatility without events leaves it in.`,
    ];
  return [
    `${event.label} on ${dateText(event.instant, picture.asOf)} is priced as a move of `,
    { figure: figureId('eventMove', first.date), text: `±${percent(event.implied.move)} %` },
    ` (95 % interval ${percent(low)} to ${percent(high)}). It accounts for `,
    { figure: figureId('eventPoints', first.date), text: numberText((first.atm - first.exEvent) * 100, 1) },
    ` of the ${volatilityText(first.atm)} points of ${dateText(first.date, picture.asOf)}; without it they would be `,
    { figure: figureId('exEvent', first.date), text: `${volatilityText(first.exEvent)} %` },
    '.',
  ];
}

/** Sentences beside Term. */
export function termReading(picture: Overview, context: AsOfContext): Sentence[] {
  const sentences: Sentence[] = [levelSentence(picture)];
  const fitted = picture.expiries.filter((e) => e.atm !== null && e.outlier === null);
  if (picture.term) {
    const { name, slope } = picture.term;
    sentences.push([
      `The term structure is ${name === 'flat' ? 'flat' : name === 'humped' ? 'humped' : `in ${name}`}: 90 days is `,
      { figure: 'termSlope', text: numberText(Math.abs(slope) * 100, 1) },
      ` points ${slope < 0 ? 'below' : 'above'} 30 days.`,
    ]);
  }
  const monthlies = fitted.filter((e) => e.isMonthly && e.days > 3);
  if (monthlies.length >= 3) {
    const [front, , third] = monthlies;
    const gap = (front.atm ?? 0) - (third.atm ?? 0);
    sentences.push([
      `The front month `,
      { figure: figureId('atm', front.date), text: `${volatilityText(front.atm)} %` },
      ` is ${numberText(Math.abs(gap) * 100, 1)} points ${gap > 0 ? 'above' : 'below'} the third, `,
      { figure: figureId('atm', third.date), text: `${volatilityText(third.atm)} %` },
      '.',
    ]);
  }
  const priced = pricedEvent(picture);
  const told = eventSentence(picture, priced);
  const [event] = picture.events;
  if (event && !(told && event === priced)) {
    const first = picture.expiries.find((e) => e.expiry > event.instant);
    sentences.push([
      `Next scheduled: ${event.label} on ${dateText(event.instant, picture.asOf)}${first ? `, inside every expiry from ${dateText(first.date, picture.asOf)} on` : ''}${event.implied ? '' : '; its share is not identifiable from these expiries'}.`,
    ]);
  }
  if (told) sentences.push(told);
  for (const u of picture.unexplained) {
    sentences.push([
      `Unexplained: ${numberText(u.excess * 100, 1)} points in ${dateText(u.expiry, picture.asOf)}, though nothing is scheduled before it.`,
    ]);
  }
  sentences.push(...outlierSentences(picture, context));
  const carry = carrySentence(picture);
  if (carry) sentences.push(carry);
  const broken = fitted.filter((e) => !e.isArbitrageFree);
  if (broken.length > 0) {
    sentences.push([`Not free of arbitrage: ${broken.map((e) => dateText(e.date, picture.asOf)).join(', ')}.`]);
  }
  return sentences;
}
