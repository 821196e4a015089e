import type { ChainRow } from '../../api/chain-row.ts';
import type { ExpiryOverview } from '../../api/picture.ts';
import { carriesSlope, fittedChance, type VolatilityInForce } from '../../theory/index.ts';
import { probabilityText } from '../../ui/format.ts';

/** Beside a chance that carries the slope of a smile; one of a single volatility has none. */
export const SLOPE_MARK = '~';

/** A chance in the money with the mark of its law. */
export function markedChance(text: string, { source }: VolatilityInForce): string {
  return text !== '—' && carriesSlope(source) ? `${text} ${SLOPE_MARK}` : text;
}

/** By which law a chance in the money is told, and what the other one says. */
export function chanceLaw(row: ChainRow, expiry: ExpiryOverview, { source }: VolatilityInForce): string | undefined {
  if (row.probabilityItm === null) return undefined;
  if (carriesSlope(source))
    return `By the law of the smile, its slope with it; one volatility for all strikes says ${probabilityText(row.probabilityItmConstantVolatility)}`;
  const fitted = fittedChance(expiry, row);
  const other = fitted === undefined ? '' : `; the fitted smile with its slope says ${probabilityText(fitted)}`;
  return `By one volatility for all strikes${other}`;
}
