export { formatOptionSymbol, type ListedOption, type OptionSymbolFailure, parseOptionSymbol } from './option-symbol.ts';
