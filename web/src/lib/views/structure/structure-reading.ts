import { figureText, type FigureScale } from '../../measures/index.ts';
import type { Sentence, SentencePart } from '../../shell/reading/sentence.ts';
import { dateText, numberText, strikeText } from '../../ui/format.ts';
import { type FiguredStructure, isLastSession, structureWidth } from './figured-structure.ts';
import { structureFigureId, structureFigureValue } from './structure-workings.ts';
import { structureWords } from './structure-words.ts';

/** What Structure says in words. */
export interface StructureReading {
  figured: FiguredStructure;
  currency: string;
  events: readonly { label: string; instant: string }[];
  decimals: number;
  scale: FigureScale;
}

/** A market is wide when bids and offers of all legs lie farther apart than this share of the value. */
const WIDE = 0.1;
/** A debit above this share of the width is dear (common practice, no source). */
const DEAR = 0.5;
/** Skew below this load, decimal of volatility, is not worth a word. */
const LOADED = 0.005;
/** Money that two figures differ by and are still called the same. */
const SAME = 0.5;

/** Sentences beside Structure: what it costs and can bring, how likely, and what should be looked at twice. */
export function structureReading(o: StructureReading): Sentence[] {
  const { scene } = o.figured;
  if (scene.legs.length === 0 && scene.held === 0)
    return [['No legs yet. Pick options on Chain, Skew or Range, or begin with a structure by its name.']];
  if (scene.trouble) return [[scene.trouble]];
  return [...costSentence(o), ...chanceSentence(o), ...greekSentence(o), ...flags(o)];
}

/** Its amount, which opens its Workings. */
function amount({ figured, scale }: StructureReading, id: string): SentencePart {
  const { unit, value } = structureFigureValue(id, figured);
  const text = figureText(value === null ? null : Math.abs(value), unit, scale).replace(/^\+/, '');
  return { figure: structureFigureId(id), text };
}

function costSentence(o: StructureReading): Sentence[] {
  const { sums, scene } = o.figured;
  if (sums.cost === null) return [];
  const gap = structureFigureValue('gap', o.figured).value;
  const end: SentencePart[] =
    gap === null
      ? ['.']
      : Math.abs(gap) < SAME
        ? [', as much as by theory.']
        : [', ', amount(o, 'gap'), ` ${gap > 0 ? 'better' : 'worse'} than by theory.`];
  const way = sums.cost >= 0 ? 'costs' : 'brings in';
  return [
    [
      `The ${structureWords(scene.name)} ${way} `,
      amount(o, 'cost'),
      ` ${o.currency} at what its legs are taken at`,
      ...end,
    ],
  ];
}

function chanceSentence(o: StructureReading): Sentence[] {
  const { scene, asOf, front } = o.figured;
  if (!front) return [];
  const by = scene.front ? ` by ${dateText(scene.front.date, asOf)}` : '';
  const between = front.breakEvens.map((b) => numberText(b, o.decimals)).join(', ');
  const { expectedProfit } = front;
  const expected: SentencePart[] =
    expectedProfit === undefined
      ? []
      : [`; expected is a ${expectedProfit < 0 ? 'loss' : 'profit'} of `, amount(o, 'expected'), ` ${o.currency}`];
  return [
    [
      ...[`It pays${by} with `, amount(o, 'chance'), ', by the law of the smile', ...expected, '. '],
      front.breakEvens.length === 0 ? 'It has no break-even.' : `Break-even at ${between}.`,
    ],
    ...incomeSentence(o, by),
  ];
}

function incomeSentence(o: StructureReading, by: string): Sentence[] {
  const income = structureFigureValue('income', o.figured).value;
  if (income === null || income === 0) return [];
  return [
    income > 0
      ? ['Its underlying brings ', amount(o, 'income'), ` ${o.currency} of dividends${by}; they are in the profit.`]
      : [
          'Its underlying is owed: it pays ',
          amount(o, 'income'),
          ` ${o.currency} of dividends and borrow${by}; they are in the profit.`,
        ],
  ];
}

function greekSentence(o: StructureReading): Sentence[] {
  const { vega } = o.figured.sums;
  const theta = structureFigureValue('theta', o.figured).value;
  if (theta === null || vega === null || theta === 0) return [];
  if (isLastSession(o.figured))
    return [
      [
        `Until the close it ${theta >= 0 ? 'brings' : 'costs'} `,
        amount(o, 'theta'),
        ` ${o.currency} at this price; one point of volatility up ${vega >= 0 ? 'brings' : 'costs'} `,
        ...[amount(o, 'vega'), '.'],
      ],
    ];
  return [
    [
      ...[
        `One day ${theta >= 0 ? 'brings' : 'costs'} `,
        amount(o, 'theta'),
        ` ${o.currency}; one point of volatility up `,
      ],
      ...[vega >= 0 ? 'brings ' : 'costs ', amount(o, 'vega'), ', as much as ', amount(o, 'daysAPoint'), ' days.'],
    ],
  ];
}

/** Whether legs outlive the first expiry. */
const livesOn = ({ scene }: FiguredStructure) =>
  scene.legs.some(({ expiry }) => expiry && expiry.date !== scene.front?.date);

/** What a rule raises, each with its number. */
function flags(o: StructureReading): Sentence[] {
  const said: Sentence[] = [];
  const { scene, sums, asOf, front } = o.figured;
  const { cost, value, marketWidth } = sums;
  if (marketWidth !== null && value !== null && value !== 0 && marketWidth > WIDE * Math.abs(value))
    said.push([
      ...['Bids and offers of its legs lie ', amount(o, 'width'), ' apart, '],
      `${numberText((100 * marketWidth) / Math.abs(value), 0)} % of its value.`,
    ]);
  const width = structureWidth(o.figured);
  if (scene.name.name === 'vertical' && cost !== null && width !== null && cost > DEAR * width)
    said.push(['The debit is ', amount(o, 'costToWidth'), ' % of its width.']);
  if (sums.skewLoad !== null && Math.abs(sums.skewLoad) >= LOADED)
    said.push([
      `Its legs ${sums.skewLoad > 0 ? 'pay for' : 'are paid for'} skew: by vega their volatilities stand `,
      amount(o, 'skew'),
      ` points ${sums.skewLoad > 0 ? 'over' : 'under'} that at the money.`,
    ]);
  const { front: expiry } = scene;
  const before = expiry
    ? o.events.find((e) => e.instant > asOf && Date.parse(e.instant) <= Date.parse(expiry.expiry))
    : undefined;
  if (before)
    said.push([`${before.label} on ${dateText(before.instant.slice(0, 10), asOf)} falls before the first expiry.`]);
  const bySmile = scene.legs.filter((l) => l.valuedBy === 'smile');
  if (bySmile.length > 0)
    said.push([
      `${bySmile.map((l) => `The ${strikeText(l.leg.strike)} ${l.leg.side}`).join(', ')} ${bySmile.length === 1 ? 'is' : 'are'} not listed at this instant: valued and taken by the smile.`,
    ]);
  for (const { leg, assignment } of scene.legs) {
    if (!assignment) continue;
    const { exDate, dividend, cost: loss } = assignment;
    const all = figureText(-leg.ratio * loss * o.figured.multiplier, 'money', o.scale).replace(/^\+/, '');
    said.push([
      `The owed ${strikeText(leg.strike)} call may be assigned before ${dateText(exDate, asOf)}, when ${figureText(dividend, 'premium', o.scale)} goes ex: at this price its holder gains by exercise, and that would cost ${all} ${o.currency}.`,
    ]);
  }
  for (const { leg, settled } of scene.legs) {
    if (!settled) continue;
    const became = settled.leg.kind === 'underlying' ? 'it became the underlying' : 'it is cash';
    said.push([
      `The ${strikeText(leg.strike)} ${leg.side} ended on ${dateText(leg.expiry, asOf)} at ${numberText(settled.at, o.decimals)}: ${became}.`,
    ]);
  }
  const doubtful = scene.legs.filter((l) => l.verdict !== null);
  if (doubtful.length > 0)
    said.push([`${doubtful.length === 1 ? 'A leg has' : `${doubtful.length} legs have`} a doubtful quote.`]);
  if (front && front.maxLoss === undefined) said.push(['The loss has no end.']);
  const lost = structureFigureValue('lost', o.figured).value;
  // A European option that lives on may be worth less than exercise would bring.
  if (scene.valued && livesOn(o.figured) && cost !== null && cost > 0 && lost !== null && lost > cost + SAME)
    said.push([
      'Most that can be lost by the first expiry is ',
      amount(o, 'lost'),
      ', more than the debit of ',
      amount(o, 'cost'),
      '.',
    ]);
  return said;
}
