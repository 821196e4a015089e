import type { SurfaceStructure } from '@umwelt/core/structure';
import type { Sentence } from '../../shell/reading/sentence.ts';
import { dateText, numberText, pointsText, probabilityText, signedText } from '../../ui/format.ts';
import type { SceneSums, StructureScene } from './structure-scene.ts';
import { structureWords } from './structure-words.ts';

/** What Structure says in words. */
export interface StructureReading {
  scene: StructureScene;
  sums: SceneSums;
  front: SurfaceStructure | undefined;
  multiplier: number;
  currency: string;
  asOf: string;
  events: readonly { label: string; instant: string }[];
  decimals: number;
}

/** A market is wide when bids and offers of all legs lie farther apart than this share of the value. */
const WIDE = 0.1;
/** A debit above this share of the width is dear (common practice, no source). */
const DEAR = 0.5;

/** Sentences beside Structure: what it costs and can bring, how likely, and what should be looked at twice. */
export function structureReading(o: StructureReading): Sentence[] {
  const { scene, sums, front } = o;
  if (scene.legs.length === 0 && scene.held === 0)
    return [['No legs yet. Pick options on Chain or Range, or begin with a structure by its name.']];
  if (scene.trouble) return [[scene.trouble]];
  return [
    ...costSentence(o),
    ...(front ? chanceSentence(o, front) : []),
    ...greekSentence(sums, o),
    ...flags(o, front),
  ];
}

function costSentence({ scene, sums, currency }: StructureReading): Sentence[] {
  if (sums.cost === null) return [];
  const way = sums.cost >= 0 ? 'costs' : 'brings in';
  const better = sums.value === null ? null : sums.value - sums.cost;
  const gap =
    better === null
      ? '.'
      : Math.abs(better) < 0.5
        ? ', as much as by theory.'
        : `, ${numberText(Math.abs(better), 0)} ${better > 0 ? 'better' : 'worse'} than by theory.`;
  return [
    [
      `The ${structureWords(scene.name)} ${way} ${numberText(Math.abs(sums.cost), 0)} ${currency} at what its legs are taken at${gap}`,
    ],
  ];
}

function chanceSentence(
  { scene, multiplier, asOf, decimals, currency }: StructureReading,
  front: SurfaceStructure,
): Sentence[] {
  const by = scene.front ? ` by ${dateText(scene.front.date, asOf)}` : '';
  const between = front.breakEvens.map((b) => numberText(b, decimals)).join(', ');
  const expected =
    front.expectedProfit === undefined
      ? ''
      : `; expected ${signedText(front.expectedProfit * multiplier, 0)} ${currency}`;
  return [
    [
      `It pays${by} with ${probabilityText(front.probabilityOfProfit)}, by the law of the smile${expected}. ${
        front.breakEvens.length === 0 ? 'It has no break-even.' : `Break-even at ${between}.`
      }`,
    ],
  ];
}

function greekSentence({ theta, vega }: SceneSums, { currency }: StructureReading): Sentence[] {
  if (theta === null || vega === null || theta === 0) return [];
  const days = Math.abs(vega / theta);
  return [
    [
      `One day ${theta >= 0 ? 'brings' : 'costs'} ${numberText(Math.abs(theta), 0)} ${currency}; one point of volatility up ${
        vega >= 0 ? 'brings' : 'costs'
      } ${numberText(Math.abs(vega), 0)}, as much as ${numberText(days, 1)} days.`,
    ],
  ];
}

/** What a rule raises, each with its number. */
function flags(
  { scene, sums, multiplier, events, asOf }: StructureReading,
  front: SurfaceStructure | undefined,
): Sentence[] {
  const said: Sentence[] = [];
  const { cost, value, marketWidth } = sums;
  if (marketWidth !== null && value !== null && value !== 0 && marketWidth > WIDE * Math.abs(value))
    said.push([
      `Bids and offers of its legs lie ${numberText(marketWidth, 0)} apart, ${numberText((100 * marketWidth) / Math.abs(value), 0)} % of its value.`,
    ]);
  const strikes = scene.legs.map(({ leg }) => leg.strike);
  const width =
    (Math.max(...strikes) - Math.min(...strikes)) *
    multiplier *
    Math.max(1, ...scene.legs.map(({ leg }) => Math.abs(leg.ratio)));
  if (scene.name.name === 'vertical' && cost !== null && cost > DEAR * width)
    said.push([`The debit is ${numberText((100 * cost) / width, 0)} % of its width.`]);
  if (sums.skewLoad !== null && Math.abs(sums.skewLoad) >= 0.005)
    said.push([
      `Its legs ${sums.skewLoad > 0 ? 'pay for' : 'are paid for'} skew: their volatilities stand ${pointsText(sums.skewLoad)} points over the money, weighed by vega.`,
    ]);
  const { front: expiry } = scene;
  const before = expiry
    ? events.find((e) => e.instant > asOf && Date.parse(e.instant) <= Date.parse(expiry.expiry))
    : undefined;
  if (before)
    said.push([`${before.label} on ${dateText(before.instant.slice(0, 10), asOf)} falls before the first expiry.`]);
  const doubtful = scene.legs.filter((l) => l.verdict !== null);
  if (doubtful.length > 0)
    said.push([`${doubtful.length === 1 ? 'A leg has' : `${doubtful.length} legs have`} a doubtful quote.`]);
  if (front && front.maxLoss === undefined) said.push(['The loss has no end.']);
  return said;
}
