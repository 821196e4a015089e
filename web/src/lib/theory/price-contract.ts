import type { Option } from '@umwelt/core/pricing';
import type { PriceContract } from '../api/price.ts';

/** An option as POST /price takes it. */
export function priceContractOf({ timeToExpiry: years, dividends, dividendYield, ...same }: Option): PriceContract {
  return {
    ...same,
    years,
    ...(same.model === 'spot' ? { dividendYield: dividendYield ?? 0 } : {}),
    ...(dividends?.length ? { dividends: dividends.map((d) => ({ years: d.time, amount: d.amount })) } : {}),
  };
}
