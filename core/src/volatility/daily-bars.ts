/** Bars of consecutive sessions as parallel columns, ascending in time; NaN where a session has none. Prices are > 0. */
export interface DailyBars {
  open: Float64Array;
  high: Float64Array;
  low: Float64Array;
  close: Float64Array;
  /** Close of the session before in the money and shares of this one, after its dividend and split; NaN where it is not known */
  previousClose: Float64Array;
}

/** Bar of one session. */
export interface DailyBar {
  open: number;
  high: number;
  low: number;
  close: number;
}

/** What changes an underlying overnight without anybody gaining or losing. */
export interface OvernightChange {
  /** Cash paid for one share to who held it at the close before, >= 0 */
  dividend?: number;
  /** Shares that one share of the close before became, > 0 */
  splitRatio?: number;
}

/**
 * Columns of bars, the close before each adjusted by what happened overnight.
 * @param bars undefined where a session has none: then neither its bar nor the next one's previous close is known
 * @param changeBefore what happened between the session before and this one; the cash is paid on the shares of the close before
 * @throws RangeError for prices that are not positive and finite, or a high below or a low above another price of the bar
 */
export function dailyBars(
  bars: readonly (DailyBar | null | undefined)[],
  changeBefore: (index: number) => OvernightChange | undefined = () => undefined,
): DailyBars {
  const column = () => new Float64Array(bars.length).fill(NaN);
  const columns: DailyBars = {
    open: column(),
    high: column(),
    low: column(),
    close: column(),
    previousClose: column(),
  };
  for (const [i, bar] of bars.entries()) {
    if (!bar) continue;
    requireBar(bar, i);
    for (const name of ['open', 'high', 'low', 'close'] as const) columns[name][i] = bar[name];
    if (i === 0 || Number.isNaN(columns.close[i - 1])) continue;
    const { dividend = 0, splitRatio = 1 } = changeBefore(i) ?? {};
    columns.previousClose[i] = (columns.close[i - 1] - dividend) / splitRatio;
  }
  return columns;
}

function requireBar({ open, high, low, close }: DailyBar, index: number): void {
  for (const [name, price] of Object.entries({ open, high, low, close })) {
    if (!(price > 0 && Number.isFinite(price))) throw new RangeError(`bar ${index}: ${name} must be above 0: ${price}`);
  }
  if (high < Math.max(open, close, low))
    throw new RangeError(`bar ${index}: high ${high} is below another of its prices`);
  if (low > Math.min(open, close)) throw new RangeError(`bar ${index}: low ${low} is above another of its prices`);
}
