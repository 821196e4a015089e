import { isFault, smileShapeName } from '@umwelt/core/surface';
import { chainRows } from '../figures/chain-rows.ts';
import { shownExpiries } from '../figures/expiry-choice.ts';
import { fittedVolatility } from '../figures/expiry-smile.ts';
import {
  dateText,
  instantLabel,
  numberText,
  ordinalText,
  pointsText,
  signedText,
  strikeText,
  tickDecimals,
  volatilityText,
} from '../figures/format.ts';
import { theoryPrice } from '../figures/chain-rows.ts';
import {
  theoryVolatility,
  VOLATILITY_SOURCE_NAMES,
  type VolatilityInForce,
  volatilityInForce,
} from '../figures/volatility-in-force.ts';
import { figureId } from '../measures/workings.ts';
import type { BorrowState } from '../schema/borrow.ts';
import type { AsOfContext } from '../schema/as-of-context.ts';
import type { ExpiryPicture, Picture, QuoteReasonText } from '../schema/picture.ts';
import type { Sentence, SentencePart } from './sentence.ts';

const REASON_WORDS: Record<QuoteReasonText, string> = {
  crossed: 'crossed',
  stale: 'stale against neighbors',
  'no-ask': 'without an offer',
  'no-bid': 'without a bid',
  'below-intrinsic': 'with a mid at or below intrinsic',
  'too-wide': 'wider than their mid',
};

/** Words for why a quote is kept out. */
export function reasonWords(reason: QuoteReasonText): string {
  return REASON_WORDS[reason];
}

/** Level of the underlying with its place in the past. */
function levelSentence(picture: Picture): Sentence {
  if (picture.atm30 === null) return ['No volatility could be fitted at this instant.'];
  const parts: SentencePart[] = ['30-day implied ', { figure: 'atm30', text: `${volatilityText(picture.atm30)} %` }];
  if (picture.standing) {
    parts.push(', the ', { figure: 'percentile', text: ordinalText(picture.standing.percentile) }, ' percentile of ');
    parts.push(`${picture.standing.count} stored sessions`);
    if (picture.standing.rank !== null) {
      parts.push(', rank ', { figure: 'rank', text: String(Math.round(picture.standing.rank * 100)) });
    }
  } else parts.push('; nothing is stored before, so it has no rank yet');
  return [...parts, '.'];
}

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
    return { strike, side, volatility, price: theoryPrice(expiry, { side, strike, volatility }) };
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

/** Counts of quotes kept out of the fit, faulty ones apart from those of no use to it. */
export function keptOut(expiries: ExpiryPicture[]) {
  const counts = new Map<QuoteReasonText, number>();
  for (const e of expiries) {
    for (const verdict of [...e.call.verdict, ...e.put.verdict]) {
      if (verdict) counts.set(verdict, (counts.get(verdict) ?? 0) + 1);
    }
  }
  const list = [...counts].sort((a, b) => b[1] - a[1]);
  const sum = (rows: typeof list) => rows.reduce((total, [, n]) => total + n, 0);
  const faulty = list.filter(([reason]) => isFault(reason));
  const unfit = list.filter(([reason]) => !isFault(reason));
  return { faulty, unfit, faultyCount: sum(faulty), unfitCount: sum(unfit) };
}

function judgedSentences(picture: Picture, expiries: ExpiryPicture[], context: AsOfContext): Sentence[] {
  // Of nothing there is nothing to say.
  if (expiries.length === 0) return [];
  const { faulty, unfit, faultyCount, unfitCount } = keptOut(expiries);
  const words = (rows: typeof faulty) => rows.map(([reason, n]) => `${n} ${reasonWords(reason)}`).join(', ');
  const sentences: Sentence[] = [];
  const subject =
    expiries.length === 1 ? `In ${dateText(expiries[0].date, picture.asOf)}` : `Over ${expiries.length} expiries`;
  sentences.push([
    faultyCount === 0
      ? `${subject} no quote is faulty`
      : `${subject} ${faultyCount} ${faultyCount === 1 ? 'quote is' : 'quotes are'} faulty (${words(faulty)})`,
    unfitCount === 0 ? '.' : `; ${unfitCount} more ${unfitCount === 1 ? 'is' : 'are'} not fitted (${words(unfit)}).`,
  ]);
  if (context.restored.length > 0) {
    const n = context.restored.length;
    sentences.push([
      `${n} ${n === 1 ? 'quote was' : 'quotes were'} put back by hand. `,
      { action: 'restore-all', text: 'Take out again.' },
    ]);
  }
  return sentences;
}

function fitSentence(expiry: ExpiryPicture, picture: Picture): Sentence {
  const when = dateText(expiry.date, picture.asOf);
  if (!expiry.smile) return [`Too few quotes of ${when} are usable for a smile.`];
  return [
    `The ${when} fit passes inside `,
    { figure: figureId('insideMarket', expiry.date), text: `${Math.round(expiry.smile.insideMarket * 100)} %` },
    ' of its quotes; ',
    expiry.isArbitrageFree ? 'no arbitrage found.' : 'it is not free of arbitrage.',
  ];
}

/** Expiries left out because they cannot stand beside the others, each with what the others imply. */
function outlierSentences(picture: Picture, context: AsOfContext): Sentence[] {
  return picture.expiries.flatMap((e): Sentence[] => {
    if (!e.outlier || e.atm === null) return [];
    const gap = e.atm - e.outlier.expected;
    const when = dateText(e.date, picture.asOf);
    const isShown = context.expiries?.includes(e.date) ?? false;
    const words: Sentence = [
      `${when} is out of line: at `,
      { figure: figureId('atm', e.date), text: `${volatilityText(e.atm)} %` },
      ` it stands ${numberText(Math.abs(gap) * 100, 1)} points ${gap > 0 ? 'over' : 'under'} what the expiries around it imply, ${volatilityText(e.outlier.expected)} %. `,
    ];
    return [
      isShown ? words : [...words, 'It is left out. ', { action: `show-expiry:${e.date}` as const, text: 'Show it.' }],
    ];
  });
}

/** What a scheduled event is worth, and how much of the first expiry behind it that is. */
function eventSentence(picture: Picture): Sentence | undefined {
  const event = picture.events.find((e) => e.implied !== null && e.implied.move > 0.01);
  const first = event && picture.expiries.find((e) => e.expiry > event.instant && e.outlier === null);
  if (!event?.implied || !first || first.atm === null || first.exEvent === null) return undefined;
  const [low, high] = event.implied.interval;
  const percent = (move: number) => numberText(move * 100, 1);
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

/** Whose smile is borrowed, of which expiry, at which level; or why none is. */
export function borrowSentence(
  picture: Picture,
  focus: ExpiryPicture | undefined,
  { link, chain, trouble, isStale, donorAsOf }: BorrowState,
): Sentence {
  switch (trouble) {
    case 'donor-missing':
      return [
        `The smile of ${chain[chain.length - 1]} is to be borrowed, but nothing of it is stored: import it, or choose another donor.`,
      ];
    case 'donor-without-quotes':
      return [
        `The smile of ${chain[chain.length - 1]} is to be borrowed, but it has no quotes at or before this instant.`,
      ];
    case 'cycle':
      return [`The chain ${chain.join(', ')} leads back on itself, so no smile is borrowed: choose another donor.`];
    case null:
      break;
  }
  const what = link.kind === 'shape' ? 'shape' : 'whole smile';
  const through = chain.length > 1 ? `, which itself borrows from ${chain.slice(1).join(', ')}` : '';
  const parts: Sentence = [`The ${what} of ${link.donor} is borrowed${through}`];
  const borrowed = focus?.borrowed;
  if (focus && borrowed) {
    const shift = borrowed.steps[borrowed.steps.length - 1].shift;
    parts.push(
      `; for ${dateText(focus.date, picture.asOf)} it is that of ${borrowed.isOtherDate ? `the nearest expiry, ${dateText(borrowed.donorExpiry, picture.asOf)}` : 'the same date'}, ${link.shift === null ? 'fitted by' : 'moved by'} ${pointsText(shift, 2)} points`,
    );
  } else if (focus) parts.push(`; ${dateText(focus.date, picture.asOf)} finds no smile there`);
  if (isStale && donorAsOf) parts.push(`. Its quotes are older: ${instantLabel(donorAsOf)}`);
  parts.push('. Theory follows it when the assumptions say "borrowed".');
  return parts;
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

/** Sentences beside Term. */
export function termReading(picture: Picture, context: AsOfContext): Sentence[] {
  const sentences: Sentence[] = [levelSentence(picture)];
  const fitted = picture.expiries.filter((e) => e.atm !== null && e.outlier === null);
  if (picture.term) {
    const { name, slope } = picture.term;
    sentences.push([
      `The term structure is ${name === 'flat' ? 'flat' : name === 'humped' ? 'humped' : `in ${name}`}: 90 days stand `,
      { figure: 'termSlope', text: pointsText(slope) },
      ' points against 30.',
    ]);
  }
  const monthlies = fitted.filter((e) => e.isMonthly && e.days > 3);
  if (monthlies.length >= 3) {
    const [front, , third] = monthlies;
    const gap = (front.atm ?? 0) - (third.atm ?? 0);
    sentences.push([
      `The front month `,
      { figure: figureId('atm', front.date), text: `${volatilityText(front.atm)} %` },
      ` stands ${numberText(Math.abs(gap) * 100, 1)} points ${gap > 0 ? 'over' : 'under'} the third, `,
      { figure: figureId('atm', third.date), text: `${volatilityText(third.atm)} %` },
      '.',
    ]);
  }
  const priced = eventSentence(picture);
  if (priced) sentences.push(priced);
  const [event] = picture.events;
  if (event && !priced) {
    const first = picture.expiries.find((e) => e.expiry > event.instant);
    sentences.push([
      `Next scheduled: ${event.label} on ${dateText(event.instant, picture.asOf)}${first ? `, inside every expiry from ${dateText(first.date, picture.asOf)} on` : ''}${event.implied ? '' : '; its share is not identifiable from these expiries'}.`,
    ]);
  }
  for (const u of picture.unexplained) {
    sentences.push([
      `Unexplained: ${numberText(u.excess * 100, 1)} points in ${dateText(u.expiry, picture.asOf)}, though nothing is scheduled before it.`,
    ]);
  }
  sentences.push(...outlierSentences(picture, context));
  const broken = fitted.filter((e) => !e.isArbitrageFree);
  if (broken.length > 0) {
    sentences.push([`Not free of arbitrage: ${broken.map((e) => dateText(e.date, picture.asOf)).join(', ')}.`]);
  }
  return sentences;
}

/** What theory rests on, where that is not a smile. */
function sourceSentence(focus: ExpiryPicture, inForce: VolatilityInForce): Sentence[] {
  const { source } = inForce;
  if (source === 'smile' || source === 'own' || source === 'borrowed') return [];
  const volatility = theoryVolatility(focus, { side: 'call', strike: focus.forward }, inForce);
  const name =
    source === 'realized' && focus.realized
      ? `realized over ${focus.realized.sessions} sessions`
      : VOLATILITY_SOURCE_NAMES[source];
  return volatility === null
    ? [[`Theory is to use ${name}, but there is no such figure here: pick another volatility above.`]]
    : [[`Theory uses one volatility for every strike: ${volatilityText(volatility)} %, ${name}.`]];
}

/** Sentences beside Chain. */
export function chainReading(picture: Picture, focus: ExpiryPicture | undefined, context: AsOfContext): Sentence[] {
  if (!focus) return [['Pick an expiry in the ribbon above.']];
  const inForce = volatilityInForce(picture, context);
  const rows = chainRows(focus, { inForce, sides: context.sides });
  const count = (standing: string) => rows.filter((r) => r.standing === standing).length;
  const decimals = tickDecimals(picture.underlying.underlyingTick);
  const sentences: Sentence[] = [levelSentence(picture)];
  sentences.push([
    'Forward ',
    { figure: figureId('forward', focus.date), text: numberText(focus.forward, decimals) },
    focus.forwardSource === 'parity' ? ` from ${focus.pairsUsed} pairs of call and put` : ' from spot and carry',
    ...(focus.carryForward !== null && focus.forwardSource === 'parity'
      ? [
          `, ${signedText(focus.forward - focus.carryForward, decimals)} against spot and curve: a yield of `,
          { figure: figureId('impliedYield', focus.date), text: `${numberText(focus.impliedYield * 100, 2)} %` },
          ' explains it.',
        ]
      : focus.curveRate === null
        ? [
            '; no rate curve is stored, so the rate of ',
            { figure: figureId('impliedRate', focus.date), text: `${numberText(focus.impliedRate * 100, 2)} %` },
            ' is implied too.',
          ]
        : ['.']),
  ]);
  sentences.push(...sourceSentence(focus, inForce));
  sentences.push([
    `Of ${rows.length} quotes ${count('inside')} hold theory inside bid and offer, ${count('dear')} are dear, ${count('cheap')} cheap.`,
  ]);
  sentences.push(...judgedSentences(picture, [focus], context), fitSentence(focus, picture));
  return sentences;
}
