/** Number as people type it: spaces between thousands, a comma or point for decimals, a percent sign; NaN when none. */
export function parseNumber(text: string): number {
  const plain = text
    .trim()
    .replace(/[\s\u202f\u00a0%¤]/g, '')
    .replace('−', '-');
  const decimal = plain.includes('.') ? plain.replaceAll(',', '') : plain.replace(',', '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(decimal) ? Number(decimal) : NaN;
}

/** Days from an instant to what was typed: a number of days, or a civil date at the instant's expiry time; NaN when neither. */
export function parseDays(text: string, from: number, expiryTime = 'T16:00:00Z'): number {
  const date = text.trim();
  if (/^\d{4}-\d{2}-\d{2}$/.test(date)) return (Date.parse(date + expiryTime) - from) / 86_400_000;
  return parseNumber(text);
}

/** Cash dividends as typed: "30: 1.5, 2031-06-20: 2"; undefined when any part is neither days nor date with an amount. */
export function parseDividends(
  text: string,
  from: number,
  expiryTime?: string,
): { days: number; amount: number }[] | undefined {
  const parts = text.split(/[,;]/).filter((part) => part.trim() !== '');
  const dividends = parts.map((part) => {
    const [days, amount] = part.split(/[:@]/);
    return { days: parseDays(days, from, expiryTime), amount: parseNumber(amount ?? '') };
  });
  return dividends.every((d) => Number.isFinite(d.days) && Number.isFinite(d.amount)) ? dividends : undefined;
}
