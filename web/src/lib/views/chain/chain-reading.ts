import { numberText, signedText, tickDecimals, volatilityText } from '../../ui/format.ts';
import {
  theoryVolatility,
  VOLATILITY_SOURCE_NAMES,
  type VolatilityInForce,
  volatilityInForce,
} from '../../theory/index.ts';
import { figureId, standingCount } from '../../measures/index.ts';
import type { AsOfContext } from '../../api/as-of-context.ts';
import type { ChainRow } from '../../api/chain-row.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import { fitSentence, judgedSentences } from '../../shell/reading/judged-sentences.ts';
import { levelSentence } from '../../shell/reading/level-sentence.ts';
import type { Sentence } from '../../shell/reading/sentence.ts';

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

/** How the forward stands to what is known without the options: spot and curve, or the price of the future. */
function besideForward(focus: ExpiryPicture, decimals: number): Sentence {
  const { carryForward, rateError } = focus;
  const percent = (value: number) => numberText(value * 100, 2);
  if (carryForward !== null && focus.forwardSource === 'parity') {
    const gap = signedText(focus.forward - carryForward, decimals);
    const isSame = Number(gap.replace('−', '-')) === 0;
    if (focus.model === 'futures') return [isSame ? ', the price of its future.' : `, ${gap} against its future.`];
    if (isSame) return [', as spot and curve give it.'];
    return [
      `, ${gap} against spot and curve: a yield of `,
      { figure: figureId('impliedYield', focus.date), text: `${percent(focus.impliedYield)} %` },
      ' explains it.',
    ];
  }
  if (focus.curveRate !== null) return ['.'];
  return [
    '; no rate curve is stored, so the rate of ',
    {
      figure: figureId('impliedRate', focus.date),
      text: `${percent(focus.impliedRate)}${rateError === null ? '' : ` ± ${percent(rateError)}`} %`,
    },
    ' is implied too.',
  ];
}

/** How many of the quotes stand so to theory: all of them, each counted once. */
function standingSentence(focus: ExpiryPicture, rows: readonly ChainRow[]): Sentence {
  const sides = new Set(rows.map((r) => r.strike)).size < rows.length ? 'both' : 'out';
  const count = (standing: ChainRow['standing']) => rows.filter((r) => r.standing === standing).length;
  const counted = (name: Parameters<typeof standingCount>[0], n: number) => ({
    figure: figureId(standingCount(name, sides), focus.date),
    text: String(n),
  });
  const [dear, cheap, unjudged] = [count('dear'), count('cheap'), count(null)];
  return [
    `Of ${rows.length} quotes `,
    counted('inside', count('inside')),
    ' hold theory inside bid and offer, ',
    counted('dear', dear),
    ` ${dear === 1 ? 'is' : 'are'} dear, `,
    counted('cheap', cheap),
    ...(unjudged === 0
      ? [' cheap.']
      : [' cheap; ', counted('unjudged', unjudged), ` cannot be judged, without good bid and offer.`]),
  ];
}

/**
 * Sentences beside Chain.
 * @param rows of the table; undefined while theory is not final, of which nothing is said then
 */
export function chainReading(
  picture: Picture,
  focus: ExpiryPicture | undefined,
  context: AsOfContext,
  rows: readonly ChainRow[] | undefined,
): Sentence[] {
  if (!focus) return [['Pick an expiry in the ribbon above.']];
  const inForce = volatilityInForce(picture, context);
  const decimals = tickDecimals(picture.underlying.underlyingTick);
  const sentences: Sentence[] = [levelSentence(picture)];
  sentences.push([
    'Forward ',
    { figure: figureId('forward', focus.date), text: numberText(focus.forward, decimals) },
    ...(focus.forwardSource === 'parity'
      ? [
          ' from ',
          { figure: figureId('pairsUsed', focus.date), text: String(focus.pairsUsed) },
          ' pairs of call and put',
        ]
      : [' from spot and carry']),
    ...besideForward(focus, decimals),
  ]);
  sentences.push(...sourceSentence(focus, inForce));
  if (rows && rows.length > 0) sentences.push(standingSentence(focus, rows));
  sentences.push(...judgedSentences(picture, [focus], context), fitSentence(focus, picture));
  return sentences;
}
