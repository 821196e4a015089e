/** Longest symbol of an underlying. */
export const LONGEST_SYMBOL = 32;

const SYMBOL = /^\^?[A-Za-z0-9](?:[A-Za-z0-9._\-/^& ]*[A-Za-z0-9])?$/;

/** The rule in words, for messages. */
export const SYMBOL_RULE = `letters, digits and . _ - / ^ & or space, beginning and ending with a letter or digit, at most ${LONGEST_SYMBOL}`;

/**
 * Whether a text may be the symbol of an underlying: ASCII letters, digits and `. _ - / ^ &` and space; first and last a
 * letter or digit (`^` may lead); no two dots in a row; at most 32 characters.
 */
export function isSymbol(text: string): boolean {
  return text.length <= LONGEST_SYMBOL && SYMBOL.test(text) && !text.includes('..');
}

/** A symbol as one part of an address, a topic or a file's name; `decodeURIComponent` gives it back. */
export function symbolPart(symbol: string): string {
  return encodeURIComponent(symbol);
}
