export {
  clockNamed,
  detectDateOrder,
  findDate,
  type InstantOptions,
  parseInstant,
  parseInstantInTwo,
  zoneNamed,
} from './parse-instant.ts';
export {
  isMissing,
  parseCount,
  parseExercise,
  parseNumber,
  parsePrice,
  parseSide,
  parseVolatility,
} from './parse-values.ts';
