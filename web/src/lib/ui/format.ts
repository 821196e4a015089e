const MINUS = '−';
const NONE = '—';
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

function fixed(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals);
  // A value that rounds to nothing has no sign.
  return value < 0 && Number(text) !== 0 ? MINUS + text : text;
}

/** Volatility in percent with one decimal, without the sign: 0.274 is "27.4". */
export function volatilityText(value: number | null | undefined): string {
  return value == null ? NONE : fixed(value * 100, 1);
}

/** Volatility points with a sign: -0.051 is "−5.1". */
export function pointsText(value: number | null | undefined, decimals = 1): string {
  if (value == null) return NONE;
  const text = fixed(value * 100, decimals);
  return value > 0 && Number(text) !== 0 ? `+${text}` : text;
}

/** Decimals that a price step needs: 0.05 needs 2. */
export function tickDecimals(tick: number | null | undefined): number {
  if (!tick) return 2;
  let decimals = 0;
  while (decimals < 8 && Math.abs(tick * 10 ** decimals - Math.round(tick * 10 ** decimals)) > 1e-9) decimals++;
  return decimals;
}

/** Number with thin spaces between thousands. */
export function numberText(value: number | null | undefined, decimals = 2): string {
  if (value == null) return NONE;
  const [whole, part] = fixed(value, decimals).split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, '\u202f');
  return part ? `${grouped}.${part}` : grouped;
}

/** Number with a sign. */
export function signedText(value: number | null | undefined, decimals = 2): string {
  if (value == null) return NONE;
  const text = numberText(value, decimals);
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/** Number with some significant digits and never an exponent: 0.00123456 is "0.001235". */
export function significantText(value: number | null | undefined, digits = 4): string {
  if (value == null || !Number.isFinite(value)) return NONE;
  if (value === 0) return '0';
  const magnitude = Math.floor(Math.log10(Math.abs(value)));
  // Nobody reads what is this small otherwise than as nothing.
  if (magnitude < -9) return '0.00';
  return numberText(value, Math.min(12, Math.max(0, digits - 1 - magnitude)));
}

/** {@link significantText} with a sign. */
export function signedSignificantText(value: number | null | undefined, digits = 4): string {
  const text = significantText(value, digits);
  return value != null && value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/** Strike without trailing zeros. */
export function strikeText(strike: number): string {
  return numberText(strike, tickDecimals(Number(strike.toPrecision(10))));
}

/** Probability in whole percent, one decimal below 5 % and above 95 %. */
export function probabilityText(value: number | null | undefined): string {
  if (value == null) return NONE;
  const percent = value * 100;
  return `${fixed(percent, percent < 5 || percent > 95 ? 1 : 0)} %`;
}

/** Ordinal of a share in percent: 0.81 is "81st". */
export function ordinalText(share: number): string {
  const n = Math.round(share * 100);
  const tail = n % 100 > 10 && n % 100 < 14 ? 'th' : (['th', 'st', 'nd', 'rd'][n % 10] ?? 'th');
  return `${n}${tail}`;
}

/**
 * Place of a share among all: "81st percentile", and at the ends, where a rounded number would say less, "lowest" and "highest".
 * @param unit what stands behind the number
 */
export function percentileText(share: number, unit: 'percentile' | 'pct' = 'percentile'): string {
  if (share <= 0) return 'lowest';
  if (share >= 1) return 'highest';
  return `${ordinalText(Math.min(0.99, Math.max(0.01, share)))} ${unit}`;
}

/** Short date of a civil date; the year only when it is not the reference's. */
export function dateText(date: string, referenceYear: string): string {
  const [year, month, day] = date.slice(0, 10).split('-');
  const short = `${Number(day)} ${MONTHS[Number(month) - 1]}`;
  return year === referenceYear.slice(0, 4) ? short : `${short} ${year.slice(2)}`;
}

/** Instant as "14 Mar 2031 14:00", in the offset it is written with. */
export function instantLabel(instant: string): string {
  const [date, time] = instant.split('T');
  const [year, month, day] = date.split('-');
  return `${Number(day)} ${MONTHS[Number(month) - 1]} ${year} ${time.slice(0, 5)}`;
}

/** Large counts shortened: 8200 is "8.2 k". */
export function countText(value: number | null | undefined): string {
  if (value == null) return NONE;
  return value >= 10000
    ? `${fixed(value / 1000, 0)} k`
    : value >= 1000
      ? `${fixed(value / 1000, 1)} k`
      : fixed(value, 0);
}

/** Days with one decimal under ten. */
export function daysText(days: number): string {
  return fixed(days, days < 10 ? 1 : 0);
}

/** Age in seconds, rounded for reading: "0.8 s", "12 s", "3 min", "2 h". */
export function ageText(seconds: number): string {
  const age = Math.max(0, seconds);
  if (age < 9.95) return `${fixed(age, 1)} s`;
  if (age < 100) return `${fixed(age, 0)} s`;
  return age < 5400 ? `${fixed(age / 60, 0)} min` : `${fixed(age / 3600, 0)} h`;
}

/** A count with its noun: "1 session", "12 sessions". */
export function countedText(count: number, one: string, many = `${one}s`): string {
  return `${numberText(count, 0)} ${count === 1 ? one : many}`;
}

/** Code of a currency as it stands beside money; XXX is the standard's code for none that is known (ISO 4217). */
export function currencyName(code: string): string {
  return code === 'XXX' ? 'currency unknown' : code;
}
