import { symbolPart } from '@umwelt/market/symbol';
import { DERIVING } from '../api/as-of-context.ts';
import { expiryDate } from '../api/quantity.ts';
import { figureParts } from '../measures/index.ts';

/** Parameters of a view that the Pricer understands as they are. */
const KEPT = [...DERIVING, 'expiries', 'volatilitySource', 'typedVolatility'];

/**
 * Address of the Pricer on an underlying.
 * @param symbol undefined when nothing is stored
 * @param parameters of the present view
 * @param expiry in focus; left out, the parameters' own
 * @param figure identifier of a figure, whose expiry and option are taken where it has them
 */
export function pricerHref(
  symbol: string | undefined,
  parameters: URLSearchParams,
  expiry?: string,
  figure?: string,
): string {
  if (symbol === undefined) return '/pricer';
  const next = new URLSearchParams();
  for (const name of KEPT) {
    const value = parameters.get(name);
    if (value !== null) next.set(name, value);
  }
  const of = figure === undefined ? undefined : figureParts(figure);
  // A spread's figure, or one of a distance, names no option.
  const date = expiryDate.safeParse(of?.expiry).data ?? expiry ?? parameters.get('expiry');
  if (date) next.set('expiry', date);
  if (of?.strike !== undefined && of.side) {
    next.set('strike', String(of.strike));
    next.set('side', of.side);
    // A quote is looked at against its market.
    next.set('panel', 'market');
  }
  const query = next.toString();
  return `/pricer/${symbolPart(symbol)}${query === '' ? '' : `?${query}`}`;
}
