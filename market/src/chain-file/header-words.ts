import { type ChainField, type ColumnMapping, ownField, SIDED_FIELDS, type SidedField } from '../chain-format/index.ts';

type Side = 'call' | 'put';
type WordField = Exclude<ChainField, `call${string}` | `put${string}`>;

/** Common words of the trade for each column, letters and digits only, lower case, the surest first. */
const WORDS: Record<WordField, readonly string[]> = {
  underlying: [
    'underlying',
    'symbol',
    'product',
    'underlyingsymbol',
    'root',
    'underlier',
    'asset',
    'instrument',
    'ticker',
  ],
  asOf: [
    ...['asof', 'snapshot', 'quotetime', 'quotedate', 'timestamp', 'datetime', 'instant', 'date', 'asofdate'],
    ...['tradedate', 'quotedatetime', 'time', 'dataasof', 'quotesasof', 'snapshottime'],
  ],
  time: ['time', 'quotetime', 'timeofday', 'asoftime', 'snapshottime'],
  underlyingPrice: [
    ...['underlyingprice', 'refprice', 'referenceprice', 'spot', 'spotprice', 'underlyinglast', 'underlierprice'],
    ...['priceofunderlying', 'ref', 'underlyingvalue', 'underlyingmid', 'index', 'indexlevel', 'indexprice'],
    ...['stockprice', 'shareprice', 'futureprice', 'futuresprice', 'future'],
  ],
  expiry: [
    ...['expiry', 'maturity', 'expiration', 'expirationdate', 'expirydate', 'expires', 'exp', 'maturitydate'],
    ...['expdate', 'expirydatetime', 'expirytime', 'lasttradingday'],
  ],
  days: ['days', 'dte', 'daystoexpiry', 'daystoexpiration', 'daystomaturity', 'daysleft', 'expirydays', 'calendardays'],
  years: [
    ...['years', 'yearstoexpiry', 'timetoexpiry', 'tte', 'tau', 'yearfraction', 'yearstomaturity', 'timetomaturity'],
    ...['t', 'ttm'],
  ],
  side: [
    'side',
    'type',
    'optiontype',
    'right',
    'callput',
    'cp',
    'putcall',
    'pc',
    'class',
    'kind',
    'option',
    'callorput',
  ],
  multiplier: ['multiplier', 'contractsize', 'contractmultiplier', 'lotsize', 'unitspercontract', 'sharespercontract'],
  currency: ['currency', 'ccy', 'cur', 'pricecurrency'],
  kind: ['underlyingkind', 'kindofunderlying', 'underlyingtype'],
  quotedIn: ['quotedin'],
  priceSource: ['underlyingpricesource'],
  exercise: ['exercisestyle', 'exercisetype', 'optionstyle', 'style', 'exercise'],
  strike: ['strike', 'exerciseprice', 'strikeprice', 'exercise', 'k', 'strikes'],
  bid: ['bid', 'bidprice', 'bestbid', 'bidpx'],
  ask: ['ask', 'offer', 'askprice', 'offerprice', 'bestask', 'bestoffer', 'askpx', 'asked'],
  bidSize: ['bidsize', 'bidquantity', 'bidvolume', 'sizebid', 'bestbidsize', 'bidqty', 'bsize'],
  askSize: [
    ...['asksize', 'offersize', 'askquantity', 'offerquantity', 'askvolume', 'sizeask', 'bestasksize', 'askqty'],
    'asize',
  ],
  last: ['last', 'lastprice', 'lasttrade', 'lasttraded', 'settlement', 'close', 'lastpx', 'settle'],
  volume: ['volume', 'traded', 'tradedvolume', 'contractstraded', 'totalvolume', 'dayvolume', 'vol', 'vlm'],
  openInterest: ['openinterest', 'openint', 'oi', 'openpositions', 'opencontracts', 'openinterests'],
  volatility: [
    'impliedvolatility',
    'iv',
    'impliedvol',
    'volatility',
    'midiv',
    'ivmid',
    'midvolatility',
    'impvol',
    'sigma',
  ],
  bidVolatility: ['bidvolatility', 'bidiv', 'ivbid', 'bidimpliedvolatility', 'impliedvolatilitybid', 'volatilitybid'],
  askVolatility: [
    ...['askvolatility', 'askiv', 'ivask', 'askimpliedvolatility', 'impliedvolatilityask', 'volatilityask'],
    ...['offervolatility', 'offeriv'],
  ],
  optionSymbol: [
    ...['optionsymbol', 'contractsymbol', 'contract', 'listedsymbol', 'optionid', 'optioncode', 'series', 'contractid'],
    ...['contractname', 'listedoption'],
  ],
};
const FIELDS = Object.keys(WORDS) as WordField[];
const LONGEST = Math.max(...FIELDS.map((f) => WORDS[f].length));
const isSided = (field: WordField): field is SidedField => (SIDED_FIELDS as readonly string[]).includes(field);
const SIDED_WORDS = new Set(SIDED_FIELDS.flatMap((f) => WORDS[f]));
const ALL_WORDS = new Map(FIELDS.flatMap((f) => WORDS[f].map((w) => [w, f] as const)).reverse());

const SIDE_WORDS: Record<string, Side> = { call: 'call', calls: 'call', c: 'call', put: 'put', puts: 'put', p: 'put' };

function tokensOf(text: string): string[] {
  return text
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter((token) => token !== '');
}

/** A text without anything but letters and digits, lower case. */
export function squashed(text: string): string {
  return tokensOf(text).join('');
}

/** Field that a label stands for, such as `Spot` in a line above the header. */
export function fieldOfWord(text: string): WordField | undefined {
  return ALL_WORDS.get(squashed(text));
}

/** The one side that a text speaks of: "Calls" does, "Call or put" does not. */
export function sideOfText(text: string): Side | undefined {
  // Single letters are too little in running text.
  const sides = new Set(
    tokensOf(text)
      .filter((token) => token.length > 1)
      .map((token) => SIDE_WORDS[token])
      .filter((side) => side !== undefined),
  );
  return sides.size === 1 ? [...sides][0] : undefined;
}

interface Header {
  side: Side | undefined;
  word: string;
}

/** Side and word of a header such as `Call Bid`, `C.Bid`, `bid_put`; one that is about both sides has none. */
function readHeader(text: string): Header {
  // What stands in brackets is a unit, unless it is the side: "Bid (EUR)", "Bid (C)".
  const tokens = tokensOf(
    text.replace(/\(([^)]*)\)/g, (all, inner: string) => (SIDE_WORDS[inner.trim().toLowerCase()] ? all : ' ')),
  );
  const whole = tokens.join('');
  const sides = new Set(tokens.map((token) => SIDE_WORDS[token]).filter((side) => side !== undefined));
  const rest = tokens.filter((token) => SIDE_WORDS[token] === undefined).join('');
  if (sides.size === 1 && SIDED_WORDS.has(rest)) return { side: [...sides][0], word: rest };
  for (const side of ['call', 'put'] as const) {
    for (const mark of [`${side}s`, side]) {
      const inner = whole.startsWith(mark)
        ? whole.slice(mark.length)
        : whole.endsWith(mark)
          ? whole.slice(0, -mark.length)
          : '';
      if (SIDED_WORDS.has(inner)) return { side, word: inner };
    }
  }
  return { side: undefined, word: whole };
}

/** Headers whose side is one letter grown together with the word, as `cbid` and `pbid`: only where both are there. */
function splitLetters(headers: Header[]): Header[] {
  const words = new Set(headers.map((h) => h.word));
  return headers.map((h) => {
    const [letter, rest] = [h.word[0], h.word.slice(1)];
    const other = letter === 'c' ? 'p' : letter === 'p' ? 'c' : undefined;
    const isPair = h.side === undefined && other !== undefined && SIDED_WORDS.has(rest) && words.has(other + rest);
    return isPair ? { side: SIDE_WORDS[letter], word: rest } : h;
  });
}

/**
 * Sides by the order of columns where words repeat without saying whose they are ("Bid Ask Strike Bid Ask"): up to the first
 * repetition the one side, from there on the other.
 */
function splitRepeated(headers: Header[], first: Side): { headers: Header[]; isSplit: boolean } {
  const seen = new Set<string>();
  const boundary = headers.findIndex(({ side, word }) => {
    if (side !== undefined || !SIDED_WORDS.has(word)) return false;
    if (seen.has(word)) return true;
    seen.add(word);
    return false;
  });
  if (boundary < 0) return { headers, isSplit: false };
  const second: Side = first === 'call' ? 'put' : 'call';
  const strikes = headers.filter(({ word }) => ALL_WORDS.get(word) === 'strike').length;
  return {
    isSplit: true,
    headers: headers.map((h, i) => {
      const isShared = !SIDED_WORDS.has(h.word) || (ALL_WORDS.get(h.word) === 'strike' && strikes === 1);
      return h.side !== undefined || isShared ? h : { side: i < boundary ? first : second, word: h.word };
    }),
  };
}

export interface MappedColumns {
  mapping: ColumnMapping;
  /** Which half of the columns belongs to calls was told by their order alone */
  areSidesAssumed: boolean;
}

/**
 * Maps columns from their headers, each column to at most one field.
 * @param groups the line above the headers that groups them, if there is one: its cells
 */
export function mapColumns(texts: readonly string[], groups: readonly string[] = []): MappedColumns {
  const labels = groups.map(sideOfText).filter((side) => side !== undefined);
  const repeated = splitRepeated(splitLetters(texts.map(readHeader)), labels[0] ?? 'call');
  const { headers } = repeated;
  const mapping: ColumnMapping = {};
  const taken = new Set<number>();
  const take = (field: ChainField, word: string, side: Side | undefined) => {
    if (mapping[field] !== undefined) return;
    const column = headers.findIndex((h, i) => !taken.has(i) && h.word === word && h.side === side);
    if (column < 0) return;
    mapping[field] = column;
    taken.add(column);
  };
  // Earlier words of a field are the surer ones, so all first words are tried before all second words.
  for (let rank = 0; rank < LONGEST; rank++) {
    for (const field of FIELDS) {
      const word = WORDS[field][rank];
      if (word === undefined) continue;
      take(field, word, undefined);
      if (isSided(field)) for (const side of ['call', 'put'] as const) take(ownField(side, field), word, side);
    }
  }
  // A strike that stands once says which side it is of only by where it stands.
  if (mapping.strike === undefined && (mapping.callStrike === undefined) !== (mapping.putStrike === undefined)) {
    mapping.strike = mapping.callStrike ?? mapping.putStrike;
    delete mapping.callStrike;
    delete mapping.putStrike;
  }
  return { mapping, areSidesAssumed: repeated.isSplit && labels.length === 0 };
}

/** How many different fields the cells of a line name: a header names many, a row of quotes none. */
export function headerScore(cells: readonly string[]): number {
  return new Set(cells.map(readHeader).flatMap((h) => ALL_WORDS.get(h.word) ?? [])).size;
}

/** Whether a mapping has a strike or a listed symbol, and quotes. */
export function isQuoted(mapping: ColumnMapping): boolean {
  const has = (field: SidedField) =>
    [field, ownField('call', field), ownField('put', field)].some((name) => mapping[name] !== undefined);
  return (
    (has('strike') || has('optionSymbol')) && (has('bid') || has('ask') || has('volatility') || has('bidVolatility'))
  );
}
