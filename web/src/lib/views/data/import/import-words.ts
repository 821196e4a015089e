/** Words for the columns of a chain. */
const FIELDS: Record<string, string> = {
  underlying: 'underlying',
  asOf: 'instant of quotes',
  time: 'time of quotes',
  underlyingPrice: 'underlying price',
  expiry: 'expiry',
  days: 'days to expiry',
  years: 'years to expiry',
  side: 'call or put',
  multiplier: 'multiplier',
  currency: 'currency',
  exercise: 'exercise',
  quotedIn: 'quoted in',
  priceSource: 'source of price',
  strike: 'strike',
  bid: 'bid',
  ask: 'offer',
  bidSize: 'bid size',
  askSize: 'offer size',
  last: 'last trade',
  volume: 'volume',
  openInterest: 'open interest',
  volatility: 'implied volatility',
  bidVolatility: 'bid volatility',
  askVolatility: 'offer volatility',
  optionSymbol: 'listed symbol',
  row: 'row',
};

/** A column of a chain in words; those of one side with it before. */
export function fieldWord(field: string): string {
  const own = /^(call|put)([A-Z].*)$/.exec(field);
  if (!own) return FIELDS[field] ?? field;
  const inner = own[2][0].toLowerCase() + own[2].slice(1);
  return `${own[1]} ${FIELDS[inner] ?? inner}`;
}

const CODES: Record<string, string> = {
  empty: 'is empty',
  'not-a-number': 'is no number',
  'not-positive': 'is not above 0',
  negative: 'is negative',
  'not-a-date': 'is no date',
  'not-a-side': 'is neither call nor put',
  'out-of-range': 'is out of range',
  expired: 'is before the quotes',
  'not-a-symbol': 'is no symbol',
  'not-a-listed-symbol': 'is no listed symbol',
  'too-few-cells': 'has too few cells',
  'bad-cell': 'cannot be read',
  duplicate: 'quotes a contract twice',
};
const SHOWN_LINES = 4;

/** Rows with one kind of problem, and where the first are. */
export function problemWords(p: { code: string; field: string; rows: number; lines: number[] }): string {
  const lines = p.lines.slice(0, SHOWN_LINES).join(', ');
  const more = p.rows > SHOWN_LINES ? ' …' : '';
  return `${fieldWord(p.field)} ${CODES[p.code] ?? p.code} in ${p.rows} (line ${lines}${more})`;
}
