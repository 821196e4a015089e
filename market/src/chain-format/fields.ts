/** Columns that a chain file can hold. */
export const CHAIN_FIELDS = [
  'underlying',
  'asOf',
  'underlyingPrice',
  'expiry',
  'side',
  'strike',
  'bid',
  'ask',
  'bidSize',
  'askSize',
  'last',
  'volume',
  'openInterest',
] as const;
export type ChainField = (typeof CHAIN_FIELDS)[number];

/** Columns that every file must have; underlying, instant and underlying price can be typed in once instead. */
export const REQUIRED_COLUMNS: readonly ChainField[] = ['expiry', 'side', 'strike', 'bid', 'ask'];
export const TYPEABLE_COLUMNS: readonly ChainField[] = ['underlying', 'asOf', 'underlyingPrice'];

/** Common words of the trade for each column, letters and digits only, lower case. */
const WORDS: Record<ChainField, string[]> = {
  underlying: ['underlying', 'symbol', 'product', 'underlyingsymbol', 'root', 'underlier', 'asset', 'instrument'],
  asOf: [
    'asof',
    'snapshot',
    'quotetime',
    'quotedate',
    'timestamp',
    'datetime',
    'instant',
    'date',
    'time',
    'asofdate',
    'tradedate',
    'quotedatetime',
  ],
  underlyingPrice: [
    'underlyingprice',
    'refprice',
    'referenceprice',
    'spot',
    'spotprice',
    'underlyinglast',
    'underlierprice',
    'priceofunderlying',
    'ref',
  ],
  expiry: [
    'expiry',
    'maturity',
    'expiration',
    'expirationdate',
    'expirydate',
    'expires',
    'exp',
    'maturitydate',
    'expdate',
  ],
  side: ['side', 'type', 'optiontype', 'right', 'callput', 'cp', 'putcall', 'pc', 'class', 'kind', 'option'],
  strike: ['strike', 'exerciseprice', 'strikeprice', 'exercise', 'k'],
  bid: ['bid', 'bidprice', 'bestbid'],
  ask: ['ask', 'offer', 'askprice', 'offerprice', 'bestask', 'bestoffer'],
  bidSize: ['bidsize', 'bidquantity', 'bidvolume', 'sizebid', 'bestbidsize'],
  askSize: ['asksize', 'offersize', 'askquantity', 'offerquantity', 'askvolume', 'sizeask', 'bestasksize'],
  last: ['last', 'lastprice', 'lasttrade', 'lasttraded', 'settlement', 'close'],
  volume: ['volume', 'traded', 'tradedvolume', 'contractstraded', 'totalvolume', 'dayvolume'],
  openInterest: ['openinterest', 'openint', 'oi', 'openpositions', 'opencontracts'],
};

/** Which column of the file holds each field; fields that the file lacks are absent. */
export type ColumnMapping = Partial<Record<ChainField, number>>;

/** Maps columns from their headers, each column to at most one field. */
export function mapColumns(headers: readonly string[]): ColumnMapping {
  const mapping: ColumnMapping = {};
  const plain = headers.map((h) => h.toLowerCase().replace(/[^a-z0-9]/g, ''));
  const taken = new Set<number>();
  // Earlier words of a field are the surer ones, so all first words are tried before all second words.
  const longest = Math.max(...CHAIN_FIELDS.map((f) => WORDS[f].length));
  for (let rank = 0; rank < longest; rank++) {
    for (const field of CHAIN_FIELDS) {
      if (mapping[field] !== undefined || WORDS[field][rank] === undefined) continue;
      const column = plain.findIndex((h, i) => !taken.has(i) && h === WORDS[field][rank]);
      if (column < 0) continue;
      mapping[field] = column;
      taken.add(column);
    }
  }
  return mapping;
}
