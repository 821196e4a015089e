import { type PriceLaw, priceLaw } from '@umwelt/core/probability';
import type { Smile } from '@umwelt/core/surface';
import type { ExpirySurface } from '../api/surface-resource.ts';
import { expirySmile } from './expiry-smile.ts';

/** As far out as a level is taken to be quoted: it has no wings of its own. */
export const OF_LEVEL: readonly [number, number] = [-20, 20];

/**
 * The law of the price at an expiry that its smile implies.
 * @param o.smile another than its own, such as a borrowed one
 * @param o.drift growth of the expected price beyond the forward, per year
 * @returns undefined without a smile
 */
export function expiryLaw(
  expiry: ExpirySurface,
  { smile = expirySmile(expiry), drift = 0 }: { smile?: Smile; drift?: number } = {},
): PriceLaw | undefined {
  if (!smile) return undefined;
  const range = expiry.smile && expiry.smile.model !== 'flat' ? expiry.smile.range : OF_LEVEL;
  return priceLaw({ smile, forward: expiry.forward, range, drift: drift * expiry.years });
}
