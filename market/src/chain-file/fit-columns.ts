import { type ColumnMapping, isWide } from '../chain-format/index.ts';
import { readOptionSymbol } from '../option-symbol/index.ts';
import { isMissing, parseExercise, parseSide } from '../cell-text/index.ts';

/** Share of a column's filled cells that must be of a kind for the column to be of it. */
const MOST = 0.8;

/**
 * A mapping by headers made to agree with what stands in the cells: a header tells what its maker calls a column, and `vol`,
 * `type`, `maturity`, `symbol`, `exercise` mean different things to different makers.
 */
export function fitColumns(given: ColumnMapping, headers: readonly string[], rows: readonly string[][]): ColumnMapping {
  const mapping = { ...given };
  const cellsOf = (column: number | undefined) =>
    column === undefined ? [] : rows.map((cells) => (cells[column] ?? '').trim()).filter((cell) => !isMissing(cell));
  const mostly = (column: number | undefined, test: (cell: string) => boolean) => {
    const cells = cellsOf(column);
    return cells.length > 0 && cells.filter(test).length >= MOST * cells.length;
  };
  const isFree = (column: number) => !Object.values(mapping).includes(column);

  listedSymbols();
  if (mapping.asOf === undefined && mapping.time !== undefined) move('time', 'asOf');
  if (mostly(mapping.underlying, (cell) => /^\d+[.,]\d+$/.test(cell))) {
    if (mapping.underlyingPrice === undefined) move('underlying', 'underlyingPrice');
    else delete mapping.underlying;
  }
  timeLeft();
  for (const [field, other] of [
    ['volume', 'volatility'],
    ['callVolume', 'callVolatility'],
    ['putVolume', 'putVolatility'],
    ['bidSize', 'bidVolatility'],
    ['askSize', 'askVolatility'],
  ] as const) {
    if (mapping[other] === undefined && isVolatility(mapping[field])) move(field, other);
  }
  if (mapping.exercise === undefined && mostly(mapping.strike, (cell) => parseExercise(cell) !== undefined))
    move('strike', 'exercise');
  sides();
  return mapping;

  function move(from: keyof ColumnMapping, to: keyof ColumnMapping): void {
    mapping[to] = mapping[from];
    mapping[from] = undefined;
  }

  /** Listed symbols are told by their form, whatever the column is called. */
  function listedSymbols(): void {
    for (const [column] of headers.entries()) {
      const field = (Object.keys(mapping) as (keyof ColumnMapping)[]).find((f) => mapping[f] === column);
      if (!mostly(column, (cell) => readOptionSymbol(cell) !== undefined)) {
        if (field && /optionSymbol/i.test(field) && cellsOf(column).length > 0) {
          mapping[field] = undefined;
          // A column called contract or series may be the underlying's.
          if (
            field === 'optionSymbol' &&
            mapping.underlying === undefined &&
            !cellsOf(column).some((c) => c.includes(' '))
          )
            mapping.underlying = column;
        }
        continue;
      }
      if (field && !/optionSymbol/i.test(field)) mapping[field] = undefined;
      const told = new Set(cellsOf(column).map((cell) => readOptionSymbol(cell)?.side));
      const own = told.has('call') ? 'callOptionSymbol' : 'putOptionSymbol';
      const target = isWide(mapping) && told.size === 1 ? own : 'optionSymbol';
      mapping[target] ??= column;
    }
  }

  /** A column of plain small numbers is no column of dates: whole ones are days, others are years. */
  function timeLeft(): void {
    for (const field of ['expiry', 'years', 'days'] as const) {
      if (!mostly(mapping[field], (cell) => /^\d{1,4}(?:[.,]\d+)?$/.test(cell))) {
        // What is called days or years but is written as a date is a date.
        if (
          field !== 'expiry' &&
          mapping.expiry === undefined &&
          mostly(mapping[field], (c) => /\d{4}|[a-z]{3}/i.test(c))
        )
          move(field, 'expiry');
        continue;
      }
      if (field !== 'expiry') continue;
      const isWhole = mostly(mapping.expiry, (cell) => /^\d+$/.test(cell));
      const target = isWhole ? 'days' : 'years';
      if (mapping[target] === undefined) move('expiry', target);
      else delete mapping.expiry;
    }
  }

  /** Volatilities have a percent sign, or are small numbers with a fraction; contracts are whole. */
  function isVolatility(column: number | undefined): boolean {
    if (mostly(column, (cell) => /^[\d.,]+\s*%$/.test(cell))) return true;
    return (
      // `12.0` is a count that some program keeps as a fraction.
      mostly(column, (cell) => /^\d{0,3}[.,]\d*[1-9]\d*$/.test(cell)) &&
      !cellsOf(column).some((cell) => /^\d{4,}|[km]$/i.test(cell))
    );
  }

  /** The side stands in the column whose cells say so; `type` may be anything else. */
  function sides(): void {
    if (mapping.side === undefined || mostly(mapping.side, (cell) => parseSide(cell) !== undefined)) return;
    const column = mapping.side;
    if (cellsOf(column).length === 0) return;
    delete mapping.side;
    if (mapping.exercise === undefined && mostly(column, (cell) => parseExercise(cell) !== undefined))
      mapping.exercise = column;
    const other = headers.findIndex((_, i) => isFree(i) && mostly(i, (cell) => parseSide(cell) !== undefined));
    if (other >= 0) mapping.side = other;
    // One of another language or code: the user sees it unread, and what stands in it.
    else if (mapping.exercise !== column && !isWide(mapping)) mapping.side = column;
  }
}
