/** What a spreadsheet would take for a formula, with any apostrophes before it. */
const FORMULA = /^'*[=+\-@\t\r\uff1d\uff0b\uff0d\uff20]/;

/** A text of a CSV cell with an apostrophe before what a spreadsheet would take for a formula. */
export function escapeFormula(text: string): string {
  return FORMULA.test(text) ? `'${text}` : text;
}

/** The text that `escapeFormula` made this of. */
export function unescapeFormula(text: string): string {
  return text.startsWith("'") && FORMULA.test(text) ? text.slice(1) : text;
}
