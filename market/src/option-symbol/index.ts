export { formatOptionSymbol, type ListedOption, type OptionSymbolFailure, parseOptionSymbol } from './option-symbol.ts';
export { readOptionSymbol } from './read-option-symbol.ts';
