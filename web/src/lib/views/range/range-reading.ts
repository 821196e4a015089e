import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { MoveChoice, RangeExpiry } from '../../api/range.ts';
import { ODDS_SOURCE_NAMES, rangeFigure } from '../../measures/index.ts';
import type { Sentence, SentencePart } from '../../shell/reading/sentence.ts';
import { dateText, numberText, probabilityText, signedText } from '../../ui/format.ts';
import type { OddsRow } from './odds-rows.ts';
import { MOVE_NAMES } from './range-words.ts';
import { toldMove } from '../../theory/index.ts';

/** What Range says in words. */
export interface RangeReading {
  picture: Pick<Picture, 'asOf' | 'price' | 'events'>;
  focus: ExpiryPicture | undefined;
  /** Of the expiry in focus */
  range: RangeExpiry | undefined;
  choice: MoveChoice;
  rows: readonly OddsRow[];
  level: number | undefined;
  side: 'below' | 'above';
  drift: number;
  decimals: number;
}

/** Sentences beside Range. */
export function rangeReading(o: RangeReading): Sentence[] {
  const { focus, range } = o;
  if (!focus || !range) return [['No expiry with a smile is shown: there is no law of the price to read.']];
  return [
    moveSentence(o, range),
    ...eventSentence(o, range),
    ...oddsSentences(o),
    ...touchSentence(o),
    ...shapeSentence(o, range),
  ];
}

function moveSentence({ picture, choice, decimals }: RangeReading, range: RangeExpiry): Sentence {
  const by = dateText(range.date, picture.asOf);
  const told = toldMove(range, choice);
  if (!told)
    return [`By ${by} the expected move (${MOVE_NAMES[choice]}) is not known: its quotes or its smile do not tell it.`];
  const half = (told.high - told.low) / 2;
  if (choice === 'range')
    return [
      `By ${by} the price ends between `,
      { figure: rangeFigure('low', range.date), text: numberText(told.low, decimals) },
      ' and ',
      { figure: rangeFigure('high', range.date), text: numberText(told.high, decimals) },
      ` with ${probabilityText(told.coverage)}, by the law of the smile.`,
    ];
  const parts: SentencePart[] = [
    choice === 'straddle' ? 'The straddle pays for a move of ' : `The expected move (${MOVE_NAMES[choice]}) is `,
    { figure: rangeFigure(choice, range.date), text: `± ${numberText(half, decimals)}` },
    ` (${numberText((100 * half) / range.forward, 1)} %) by ${by}`,
  ];
  if (told.coverage !== null) parts.push(`; the smile has the price within it with ${probabilityText(told.coverage)}`);
  return [...parts, '.'];
}

function eventSentence({ picture, decimals }: RangeReading, range: RangeExpiry): Sentence[] {
  if (range.events.length === 0) return [];
  const known = range.events.filter((e) => e.move !== null);
  const largest = known.sort((a, b) => (b.move ?? 0) - (a.move ?? 0)).at(0);
  if (!largest || largest.move === null)
    return [
      [
        `${range.events.length === 1 ? `${range.events[0].label} lies` : `${range.events.length} scheduled events lie`} before it; the expiries do not tell what of the move is theirs.`,
      ],
    ];
  return [
    [
      `${largest.label} on ${dateText(largest.instant.slice(0, 10), picture.asOf)} alone is worth ± ${numberText(largest.move, decimals)} (${numberText((100 * largest.move) / range.forward, 1)} %), one standard deviation.`,
    ],
  ];
}

function oddsSentences({ rows, level, side, focus, picture, decimals, drift }: RangeReading): Sentence[] {
  const smile = rows.find((r) => r.source === 'smile');
  if (!focus || level === undefined || !smile || smile.finish === null) return [];
  const plain = rows.find((r) => r.source === 'atm');
  const parts: SentencePart[] = [
    `${side === 'below' ? 'Below' : 'Above'} ${numberText(level, decimals)} by ${dateText(focus.date, picture.asOf)}: `,
    { figure: rangeFigure('finish', 'smile'), text: probabilityText(smile.finish) },
    ' from the fitted smile',
  ];
  if (plain && plain.finish !== null) {
    parts.push(', ', { figure: rangeFigure('finish', 'atm'), text: probabilityText(plain.finish) }, ' from the money');
    const strike = plain.steps.find((s) => s.name === 'strike')?.change ?? 0;
    const slope = plain.steps.find((s) => s.name === 'slope')?.change ?? 0;
    const points = (change: number) => numberText(Math.abs(change) * 100, 1);
    const way = (change: number) => (change > 0 ? 'adds' : 'takes');
    if (strike !== 0 || slope !== 0)
      parts.push(
        `: this strike's own volatility ${way(-strike)} ${points(strike)} points, the slope of the smile ${way(-slope)} ${points(slope)}`,
      );
  }
  if (drift !== 0) parts.push(`; a drift of ${signedText(drift * 100, 1)} % a year is assumed`);
  const history = rows.find((r) => r.source === 'history');
  const own: Sentence[] =
    history && history.finish !== null
      ? [
          [
            `Drawn from its ${ODDS_SOURCE_NAMES.history} it is `,
            { figure: rangeFigure('finish', 'history'), text: probabilityText(history.finish) },
            history.finishError === undefined ? '.' : ` ± ${numberText(history.finishError * 100, 1)}.`,
          ],
        ]
      : [];
  return [[...parts, '.'], ...own];
}

function touchSentence({ rows }: RangeReading): Sentence[] {
  const smile = rows.find((r) => r.source === 'smile');
  if (!smile || smile.finish === null || smile.touch === null || smile.isTouchOld || smile.finish <= 0) return [];
  return [
    [
      'Touching it on the way: ',
      { figure: rangeFigure('touch', 'smile'), text: probabilityText(smile.touch) },
      `, ${numberText(smile.touch / smile.finish, 1)} times as likely as ending beyond; jumps would make it less.`,
    ],
  ];
}

function shapeSentence({ decimals }: RangeReading, range: RangeExpiry): Sentence[] {
  const said: Sentence[] = [];
  if (range.humps.length > 1)
    said.push([
      `The law has two humps, at ${numberText(range.humps[0], decimals)} and ${numberText(range.humps[1], decimals)}: the market expects one or the other, and seldom the middle.`,
    ]);
  if (range.wings?.includes('arbitrage'))
    said.push([
      'Beyond its quotes this smile cannot be continued without arbitrage: its outer odds are not to be trusted.',
    ]);
  else if (range.wings?.includes('settling'))
    said.push([
      `${range.wings[0] === 'settling' ? (range.wings[1] === 'settling' ? 'Both wings are' : 'The lower wing is') : 'The upper wing is'} bent beyond the quotes, since the fit would allow arbitrage there.`,
    ]);
  return said;
}
