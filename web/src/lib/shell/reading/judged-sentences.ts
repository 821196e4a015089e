import { isFault } from '@umwelt/core/surface';
import { dateText, volatilityText, numberText } from '../../ui/format.ts';
import { figureId, keptOutCount } from '../../measures/index.ts';
import type { AsOfContext } from '../../api/as-of-context.ts';
import type { ExpiryOverview, Overview } from '../../api/picture.ts';
import type { QuoteReasonText } from '../../api/market-resource.ts';
import { reasonWords } from '../../market/index.ts';
import type { Sentence } from './sentence.ts';

/** Counts of quotes kept out of the fit, faulty ones apart from those of no use to it. */
function keptOut(expiries: ExpiryOverview[]) {
  const counts = new Map<QuoteReasonText, number>();
  for (const e of expiries) {
    for (const { reason, count } of e.keptOut) counts.set(reason, (counts.get(reason) ?? 0) + count);
  }
  const list = [...counts].sort((a, b) => b[1] - a[1]);
  const sum = (rows: typeof list) => rows.reduce((total, [, n]) => total + n, 0);
  const faulty = list.filter(([reason]) => isFault(reason));
  const unfit = list.filter(([reason]) => !isFault(reason));
  return { faulty, unfit, faultyCount: sum(faulty), unfitCount: sum(unfit) };
}

export function judgedSentences(picture: Overview, expiries: ExpiryOverview[], context: AsOfContext): Sentence[] {
  // Of nothing there is nothing to say.
  if (expiries.length === 0) return [];
  const { faulty, unfit, faultyCount, unfitCount } = keptOut(expiries);
  const words = (rows: typeof faulty) => rows.map(([reason, n]) => `${n} ${reasonWords(reason, n)}`).join(', ');
  const sentences: Sentence[] = [];
  const subject =
    expiries.length === 1 ? `In ${dateText(expiries[0].date, picture.asOf)}` : `Over ${expiries.length} expiries`;
  // Of one expiry, or of all that are shown.
  const of = expiries.length === 1 ? expiries[0].date : undefined;
  const counted = (kind: Parameters<typeof keptOutCount>[0], n: number) => ({
    figure: figureId(keptOutCount(kind), of),
    text: String(n),
  });
  sentences.push([
    ...(faultyCount === 0
      ? [`${subject} no quote is faulty`]
      : [
          `${subject} `,
          counted('faulty', faultyCount),
          ` ${faultyCount === 1 ? 'quote is' : 'quotes are'} faulty (${words(faulty)})`,
        ]),
    ...(unfitCount === 0
      ? ['.']
      : ['; ', counted('unfit', unfitCount), ` more ${unfitCount === 1 ? 'is' : 'are'} not fitted (${words(unfit)}).`]),
    ...(faultyCount + unfitCount === 0 ? [] : [' ', { action: 'list-excluded', text: 'List them.' } as const]),
  ]);
  const made = expiries.filter((e) => e.quotedIn === 'volatility').length;
  if (made > 0)
    sentences.push([
      made === expiries.length
        ? 'These quotes were brought in volatility: the prices are computed from it, at the width chosen then.'
        : `The quotes of ${made} of them were brought in volatility: their prices are computed from it.`,
    ]);
  if (picture.priceSource === 'parity')
    sentences.push(['The price of the underlying was not in the file; parity implies it from the nearest expiry.']);
  if (context.restored.length > 0) {
    const n = context.restored.length;
    sentences.push([
      `${n} ${n === 1 ? 'quote was' : 'quotes were'} put back by hand. `,
      { action: 'restore-all', text: 'Take out again.' },
    ]);
  }
  return sentences;
}

export function fitSentence(expiry: ExpiryOverview, picture: Overview): Sentence {
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
export function outlierSentences(picture: Overview, context: AsOfContext): Sentence[] {
  return picture.expiries.flatMap((e): Sentence[] => {
    if (!e.outlier || e.atm === null) return [];
    const gap = e.atm - e.outlier.expected;
    const when = dateText(e.date, picture.asOf);
    const isShown = Array.isArray(context.expiries) && context.expiries.includes(e.date);
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
