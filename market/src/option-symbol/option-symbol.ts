/** A listed option as its symbol tells it. */
export interface ListedOption {
  /** Capital letters and digits, at most six */
  root: string;
  /** Civil date of expiry, YYYY-MM-DD */
  expiry: string;
  side: 'call' | 'put';
  /** 0.001 to 99,999.999, in thousandths */
  strike: number;
}

export type OptionSymbolFailure = 'wrong-length' | 'bad-root' | 'bad-date' | 'bad-side' | 'bad-strike';

const LENGTH = 21;
const ROOT = 6;
const LARGEST_STRIKE = 99_999.999;
const CENTURY = 2000;

/**
 * Symbol of a listed option in the open 21-character symbology: root in six places filled up with blanks, expiry as
 * YYMMDD, C or P, and the strike in thousandths in eight digits.
 * @throws RangeError for a root, date or strike that the symbology has no room for
 * @example formatOptionSymbol({ root: 'KELPA', expiry: '2031-04-18', side: 'call', strike: 82.5 }) // 'KELPA 310418C00082500'
 */
export function formatOptionSymbol(o: ListedOption): string {
  if (!isRoot(o.root)) throw new RangeError(`root must be 1 to ${ROOT} capital letters or digits: ${o.root}`);
  if (!isDate(o.expiry)) throw new RangeError(`expiry must be a date from ${CENTURY} to ${CENTURY + 99}: ${o.expiry}`);
  const thousandths = Math.round(o.strike * 1000);
  // A strike is written in decimals, so its thousandths miss a whole number by rounding alone.
  const isWhole = Math.abs(o.strike * 1000 - thousandths) <= 1e-6 * thousandths;
  if (!(o.strike > 0 && o.strike <= LARGEST_STRIKE && isWhole)) {
    throw new RangeError(`strike must be a number of thousandths up to ${LARGEST_STRIKE}: ${o.strike}`);
  }
  const date = o.expiry.slice(2).replaceAll('-', '');
  return `${o.root.padEnd(ROOT)}${date}${o.side === 'call' ? 'C' : 'P'}${String(thousandths).padStart(8, '0')}`;
}

/**
 * Reads a symbol of the open 21-character symbology.
 * @returns the option, or what is wrong with the text
 */
export function parseOptionSymbol(
  text: string,
): { ok: true; option: ListedOption } | { ok: false; reason: OptionSymbolFailure } {
  if (text.length !== LENGTH) return { ok: false, reason: 'wrong-length' };
  const root = text.slice(0, ROOT).trimEnd();
  if (!isRoot(root)) return { ok: false, reason: 'bad-root' };
  const [year, month, day] = [text.slice(6, 8), text.slice(8, 10), text.slice(10, 12)];
  const expiry = `${CENTURY / 100}${year}-${month}-${day}`;
  if (!isDate(expiry)) return { ok: false, reason: 'bad-date' };
  const letter = text[12];
  if (letter !== 'C' && letter !== 'P') return { ok: false, reason: 'bad-side' };
  const digits = text.slice(13);
  if (!/^\d{8}$/.test(digits) || Number(digits) === 0) return { ok: false, reason: 'bad-strike' };
  return { ok: true, option: { root, expiry, side: letter === 'C' ? 'call' : 'put', strike: Number(digits) / 1000 } };
}

function isRoot(root: string): boolean {
  return /^[A-Z0-9]{1,6}$/.test(root);
}

/** An existing date of this century. */
function isDate(text: string): boolean {
  if (!/^20\d{2}-\d{2}-\d{2}$/.test(text)) return false;
  const [year, month, day] = text.split('-').map(Number);
  const date = new Date(Date.UTC(year, month - 1, day));
  return date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
}
