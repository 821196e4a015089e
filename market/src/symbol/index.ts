export { isSymbol, LONGEST_SYMBOL, SYMBOL_RULE, symbolPart } from './symbol.ts';
