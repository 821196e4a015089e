import { dateText } from '../ui/format.ts';
import type { CarryPicture, InferredCarry } from '../api/carry.ts';
import type { Derivation, ExpiryMeasure, LevelMeasure, LevelSubject, WorkingsInput } from './measure.ts';

const SOURCE =
  'Least squares of call less put at every strike with what is known before, early exercise under the same carry; parity: Stoll (1969)';
const DERIVATION: Derivation = {
  kind: 'fit',
  core: 'deriveSurface',
  text: 'call − put = D (F − K) + E(call) − E(put) at every strike of every expiry; F = S e^((r − q) T) − Σ A e^((r − q) (T − t)), r = curve + s, q = known + b',
};

/** The figures of the carry in a picture that are the quotes' own; null where nothing had to be inferred. */
function figureOf(
  name: 'financing' | 'borrow' | 'drift',
  letter: string,
  label: string,
  definition: string,
): LevelMeasure {
  const of = ({ picture }: LevelSubject) => picture.carry.inferred?.[name] ?? null;
  return {
    id: `implied-${name}`,
    label,
    unit: 'rate',
    definition,
    derivation: DERIVATION,
    source: SOURCE,
    value: (subject) => of(subject)?.value ?? null,
    inputs: (subject) => [
      {
        symbol: `s(${letter})`,
        label: 'its standard deviation',
        value: of(subject)?.error ?? null,
        unit: 'rate',
        source: 'scatter of the pairs',
      },
      ...carryInputs(subject),
    ],
    note: ({ picture }) => apartNote(picture.carry),
  };
}

/** Carry that the quotes imply together, as its figures share it. */
export const CARRY_MEASURES: readonly LevelMeasure[] = [
  figureOf(
    'financing',
    's',
    'implied financing',
    'Rate over the curve, or the rate itself without one, at which all expiries together finance the underlying.',
  ),
  figureOf(
    'borrow',
    'b',
    'implied cost to borrow',
    'Yield or cost to borrow beside the known one that all expiries together imply.',
  ),
  figureOf(
    'drift',
    's − b',
    'financing less borrow',
    'What spot and forwards tell of both together, whichever of them it is.',
  ),
];

/** The dividend that the quotes imply in the gap before an expiry. */
export const IMPLIED_DIVIDEND: ExpiryMeasure = {
  id: 'impliedDividend',
  label: 'implied dividend',
  shortLabel: 'dividend',
  unit: 'price',
  definition: 'Cash that the forwards fall by between this expiry and the one before, which nobody told.',
  derivation: DERIVATION,
  source: SOURCE,
  value: ({ picture, expiry }) => dividendBefore(picture.carry, expiry.date)?.amount.value ?? null,
  inputs: ({ picture, expiry }) => {
    const found = dividendBefore(picture.carry, expiry.date);
    if (!found) return [];
    const on = dateText(found.instant.slice(0, 10), picture.asOf);
    const between = `between ${found.from === null ? 'now' : dateText(found.from, picture.asOf)} and ${dateText(found.to, picture.asOf)}`;
    return [
      {
        symbol: 's(A)',
        label: 'its standard deviation',
        value: found.amount.error,
        unit: 'price',
        source: 'scatter of the pairs',
      },
      {
        symbol: 's(t)',
        label: `standard deviation of its date, ${on}`,
        value: found.days,
        unit: 'days',
        source: between,
      },
      ...carryInputs({ picture }),
    ];
  },
};

export function dividendBefore(carry: CarryPicture, date: string): InferredCarry['dividends'][number] | undefined {
  return carry.inferred?.dividends.find((d) => d.to === date);
}

/** What must be known of figures that rest on inferred carry; undefined where what is known serves. */
export function carryNote({ picture }: Pick<LevelSubject, 'picture'>): string | undefined {
  const { source } = picture.carry;
  return source === 'known' ? undefined : `Dividends, borrow and financing are ${CARRY_SOURCES[source]}.`;
}

/** Words for what early exercise rests on. */
export const CARRY_SOURCES: Record<CarryPicture['source'], string> = {
  known: 'curve and dividends as they are known',
  inferred: 'implied by the quotes of all expiries together',
  typed: 'typed',
  taken: 'implied by quotes before, and taken over as known',
};

function carryInputs({ picture }: Pick<LevelSubject, 'picture'>): WorkingsInput[] {
  const { inferred } = picture.carry;
  if (!inferred) return [];
  const rate = (symbol: string, label: string, value: number): WorkingsInput => ({
    symbol,
    label,
    value,
    unit: 'rate',
    source: CARRY_SOURCES.inferred,
  });
  return [
    rate('s', inferred.hasCurve ? 'financing over the curve' : 'rate', inferred.financing.value),
    rate('b', 'cost to borrow', inferred.borrow.value),
    ...inferred.dividends.map((d, i): WorkingsInput => ({
      symbol: `A${i + 1}`,
      label: `dividend about ${dateText(d.instant.slice(0, 10), picture.asOf)}`,
      value: d.amount.value,
      unit: 'price',
      source: CARRY_SOURCES.inferred,
    })),
    { symbol: 'S', label: 'price of the underlying', value: picture.price, unit: 'price', source: 'quote' },
  ];
}

function apartNote({ inferred }: CarryPicture): string | undefined {
  if (!inferred || inferred.areToldApart) return undefined;
  return 'These quotes do not tell financing and borrow apart: only their difference is known.';
}
