import {
  numberText,
  percentileText,
  pointsText,
  probabilityText,
  signedSignificantText,
  signedText,
  significantText,
  tickDecimals,
  volatilityText,
} from '../ui/format.ts';
import type { Overview } from '../api/picture.ts';
import type { Unit } from './measure.ts';

/** What the digits of a figure follow. */
export interface FigureScale {
  /** Null where it is unknown */
  underlyingTick: number | null;
  optionTick: number | null;
  /** Of the underlying: Greeks are large or small by it */
  price: number;
  /** Units of the underlying that a figure counts, where it is more than one */
  factor?: number;
}

/** The scale of a picture's figures, per unit of its underlying unless a factor is given. */
export function figureScale(picture: Pick<Overview, 'underlying' | 'price'>, factor = 1): FigureScale {
  const { underlyingTick, optionTick } = picture.underlying;
  return { underlyingTick, optionTick, price: picture.price, factor };
}

/** Prices below this are quoted in hundredths of a cent where no tick is known, such as those of a currency pair. */
const SMALL_PRICE = 10;

/** Decimals of money: fewer when it is of many units, but cents where there were any. */
function scaledDecimals(decimals: number, { factor = 1 }: FigureScale): number {
  const shift = Math.floor(Math.log10(Math.max(1, Math.abs(factor))));
  return Math.max(Math.min(decimals, 2), decimals - shift);
}

const unknownTick = ({ price }: FigureScale) => (price < SMALL_PRICE ? 0.0001 : 0.01);

/** Decimals of prices of the underlying. */
export function underlyingDecimals(scale: FigureScale): number {
  return tickDecimals(scale.underlyingTick ?? unknownTick(scale));
}

/** Decimals of quoted premiums. */
export function quoteDecimals(scale: FigureScale): number {
  return scaledDecimals(tickDecimals(scale.optionTick ?? unknownTick(scale)), scale);
}

/** Decimals of premiums that are computed: one more than those that are quoted. */
export function premiumDecimals(scale: FigureScale): number {
  return scaledDecimals(tickDecimals(scale.optionTick ?? unknownTick(scale)) + 1, scale);
}

/** Decimals of a Greek of this unit: as many as its usual size at this price leaves three digits, deltas three. */
function greekDecimals(unit: 'delta' | 'gamma' | 'sensitivity', scale: FigureScale): number {
  const magnitude = Math.floor(Math.log10(Math.max(1e-6, Math.abs(scale.price))));
  if (unit === 'delta') return scaledDecimals(3, scale);
  const wanted = unit === 'gamma' ? magnitude + 2 : 5 - magnitude;
  return scaledDecimals(Math.min(7, Math.max(2, wanted)), scale);
}

/** Digits of an interval beyond those of its price, at most. */
const MOST_FINER = 3;

/** Half of an interval by two digits, as far as they can matter. */
function widthText(value: number, scale: FigureScale): string {
  const least = 10 ** -(underlyingDecimals(scale) + MOST_FINER - 1);
  return value > 0 && value < least
    ? `<${numberText(least, underlyingDecimals(scale) + MOST_FINER - 1)}`
    : significantText(value, 2);
}

/** Money of a position beyond this is written without cents. */
const WHOLE_MONEY = 1e5;

/** Money of a position: in cents, so that parts that stand beside each other add up to their sum; whole where it is very much. */
export function moneyText(value: number): string {
  return numberText(value, Math.abs(value) >= WHOLE_MONEY ? 0 : 2);
}

/** A Greek below this is none. */
const NOTHING = 1e-12;

/** A Greek by its usual digits; one that they would show as nothing by two digits of its own. */
function greekText(value: number, unit: 'delta' | 'gamma' | 'sensitivity', scale: FigureScale): string {
  const decimals = greekDecimals(unit, scale);
  const isLost = Math.abs(value) > NOTHING && Math.abs(value) < 0.5 * 10 ** -decimals;
  if (unit === 'gamma') return isLost ? significantText(value, 2) : numberText(value, decimals);
  return isLost ? signedSignificantText(value, 2) : signedText(value, decimals);
}

/** A figure as it is written wherever it stands, without the word of its unit. */
export function figureText(value: number | null | undefined, unit: Unit, scale: FigureScale): string {
  if (value == null) return '—';
  switch (unit) {
    case 'volatility':
      return volatilityText(value);
    case 'points':
      return pointsText(value);
    case 'price':
      return numberText(value, underlyingDecimals(scale));
    case 'width':
      return widthText(value, scale);
    case 'quote':
      return numberText(value, quoteDecimals(scale));
    case 'premium':
      return numberText(value, premiumDecimals(scale));
    case 'money':
      return moneyText(value);
    case 'rate':
      return signedText(value * 100, 2);
    case 'share':
      return numberText(value * 100, 1);
    case 'factor':
      return numberText(value, 4);
    case 'delta':
    case 'sensitivity':
    case 'gamma':
      return greekText(value, unit, scale);
    case 'greek':
      return signedSignificantText(value);
    case 'probability':
      return probabilityText(value);
    case 'years':
      return numberText(value, 4);
    case 'days':
      return numberText(value, 1);
    case 'count':
      return numberText(value, 0);
    case 'percentile':
      return percentileText(value);
  }
}

/** Word behind a value of a unit. */
const WORDS: Partial<Record<Unit, string>> = {
  volatility: ' %',
  points: ' pts',
  rate: ' %',
  share: ' %',
  years: ' y',
  days: ' d',
};

/** {@link figureText} with the word of its unit. */
export function figureWithUnit(value: number | null, unit: Unit, scale: FigureScale): string {
  return value === null ? '—' : figureText(value, unit, scale) + (WORDS[unit] ?? '');
}

/** A value as Workings write inputs: with the digits that the result needs, and the word of its unit. */
export function inputText(value: number | null, unit: Unit, scale: FigureScale): string {
  if (value === null) return '—';
  const written = (): string => {
    switch (unit) {
      case 'volatility':
        return numberText(value * 100, 2);
      case 'points':
        return pointsText(value, 2);
      case 'price':
        return numberText(value, underlyingDecimals(scale) + 1);
      case 'width':
        return significantText(value, 4);
      case 'premium':
        return numberText(value, premiumDecimals(scale) + 1);
      case 'rate':
        return numberText(value * 100, 3);
      case 'factor':
      case 'years':
        return numberText(value, 6);
      case 'delta':
        return numberText(value, 4);
      case 'gamma':
      case 'sensitivity':
      case 'greek':
        return significantText(value, 5);
      default:
        return figureText(value, unit, scale);
    }
  };
  return written() + (WORDS[unit] ?? '');
}

/** A value with all digits that a table leaves out, where it leaves out any. */
export function exactText(value: number | null, unit: Unit, scale: FigureScale): string | undefined {
  if (value === null || unit === 'count' || unit === 'percentile' || unit === 'quote') return undefined;
  const isPercent = WORDS[unit] === ' %' || unit === 'points' || unit === 'probability';
  const shown = isPercent ? value * 100 : value;
  const plain = (text: string) =>
    text
      .replace(/^\+/, '')
      .replace(/(\.\d*?)0+$/, '$1')
      .replace(/\.$/, '');
  const text = plain(significantText(shown, 7));
  return plain(figureText(value, unit, scale)) === text ? undefined : text;
}
