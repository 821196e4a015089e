/** Columns that a chain file can hold, whichever side of the market a row is about. */
const PLAIN_FIELDS = [
  'underlying',
  'asOf',
  'time',
  'underlyingPrice',
  'expiry',
  'days',
  'years',
  'side',
  'multiplier',
  'currency',
  'exercise',
  'kind',
  'quotedIn',
  'priceSource',
] as const;
/** Columns that a wide file, which has calls and puts of a strike in one row, holds once for each side. */
export const SIDED_FIELDS = [
  'strike',
  'bid',
  'ask',
  'bidSize',
  'askSize',
  'last',
  'volume',
  'openInterest',
  'volatility',
  'bidVolatility',
  'askVolatility',
  'optionSymbol',
] as const;

type PlainField = (typeof PLAIN_FIELDS)[number];
export type SidedField = (typeof SIDED_FIELDS)[number];
type OwnField = `${'call' | 'put'}${Capitalize<SidedField>}`;
export type ChainField = PlainField | SidedField | OwnField;

/** The column of a field for one side in a wide file. */
export function ownField(side: 'call' | 'put', field: SidedField): OwnField {
  return `${side}${field[0].toUpperCase()}${field.slice(1)}` as OwnField;
}

/** Every column that a chain file can hold. */
export const CHAIN_FIELDS: readonly ChainField[] = [
  ...PLAIN_FIELDS,
  ...SIDED_FIELDS,
  ...(['call', 'put'] as const).flatMap((side) => SIDED_FIELDS.map((field) => ownField(side, field))),
];

/** Which column of the file holds each field; fields that the file lacks are absent. */
export type ColumnMapping = Partial<Record<ChainField, number>>;

/** What can be typed in once for every row instead, as it would stand in a cell. */
export const TYPEABLE_FIELDS = ['underlying', 'asOf', 'underlyingPrice', 'expiry', 'side'] as const;
export type TypedCells = Partial<Record<(typeof TYPEABLE_FIELDS)[number], string>>;

/** Whether a file has columns of its own for calls and for puts. */
export function isWide(mapping: ColumnMapping): boolean {
  return SIDED_FIELDS.some(
    (f) => mapping[ownField('call', f)] !== undefined || mapping[ownField('put', f)] !== undefined,
  );
}

/**
 * What of a chain is neither mapped nor typed in: a contract is told by expiry (or days or years to it), side and strike or
 * by a listed symbol, its quote by bid and ask or by volatilities. The underlying's price is not asked for: parity implies it.
 */
export function missingFields(mapping: ColumnMapping, typed: TypedCells): ChainField[] {
  const has = (field: ChainField) => mapping[field] !== undefined;
  const hasSided = (field: SidedField) => has(field) || has(ownField('call', field)) || has(ownField('put', field));
  const isTyped = (field: (typeof TYPEABLE_FIELDS)[number]) => Boolean(typed[field]?.trim());
  const isListed = hasSided('optionSymbol');
  const isQuoted = (hasSided('bid') && hasSided('ask')) || hasSided('volatility') || hasSided('bidVolatility');
  const missing: ChainField[] = [];
  if (!has('underlying') && !isTyped('underlying') && !isListed) missing.push('underlying');
  if (!has('asOf') && !isTyped('asOf')) missing.push('asOf');
  if (!has('expiry') && !has('days') && !has('years') && !isTyped('expiry') && !isListed) missing.push('expiry');
  if (!has('side') && !isWide(mapping) && !isTyped('side') && !isListed) missing.push('side');
  if (!hasSided('strike') && !isListed) missing.push('strike');
  if (!isQuoted) missing.push(...(['bid', 'ask'] as const).filter((field) => !hasSided(field)));
  return missing;
}
