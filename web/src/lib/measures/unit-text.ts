import { numberText, pointsText, probabilityText, percentileText, volatilityText } from '../ui/format.ts';
import type { Unit } from './measure.ts';

/** Value with its unit, as Workings writes it: one more digit than the tables. */
export function unitText(value: number | null, unit: Unit, decimals: number): string {
  if (value === null) return '—';
  switch (unit) {
    case 'volatility':
      return `${numberText(value * 100, 2)} %`;
    case 'points':
      return `${pointsText(value, 2)} pts`;
    case 'price':
      return numberText(value, decimals + 1);
    case 'premium':
      return numberText(value, decimals + 2);
    case 'rate':
      return `${numberText(value * 100, 3)} %`;
    case 'share':
      return `${volatilityText(value)} %`;
    case 'factor':
      return numberText(value, 6);
    case 'delta':
      return numberText(value, 4);
    case 'greek':
      return Math.abs(value) < 0.001 && value !== 0 ? value.toExponential(3) : numberText(value, 5);
    case 'probability':
      return probabilityText(value);
    case 'years':
      return `${numberText(value, 6)} y`;
    case 'days':
      return `${numberText(value, 1)} d`;
    case 'count':
      return numberText(value, 0);
    case 'percentile':
      return percentileText(value);
  }
}
