import { type ListedOption, parseOptionSymbol } from './option-symbol.ts';

const LOOSE = /^([A-Z0-9]{1,6})\s*(\d{6}[CP]\d{8})$/;

/** A listed symbol as programs write it: also with the blanks after the root left out, or only one of them kept. */
export function readOptionSymbol(text: string): ListedOption | undefined {
  const match = LOOSE.exec(text.trim());
  if (!match) return undefined;
  const parsed = parseOptionSymbol(match[1].padEnd(6) + match[2]);
  return parsed.ok ? parsed.option : undefined;
}
