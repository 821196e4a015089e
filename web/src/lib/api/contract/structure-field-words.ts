/** Words of what structures and hedges are asked and answered by, as in {@link FIELD_WORDS}. */
export const STRUCTURE_FIELD_WORDS: Readonly<Record<string, string>> = {
  'StructureByNumbers.underlying': 'Price of the underlying now',
  'StructureByNumbers.volatility': 'Of the law of the price, and of legs without their own; annual decimal',
  'StructureByNumbers.legs': 'European options and the underlying; everything is seen at the first expiry of them',
  'StructureByNumbers.legs.quantity': 'Contracts held; below 0 where they are owed',
  'StructureByNumbers.legs.price': 'Paid for one unit of underlying, or got where it is owed',
  'StructureByNumbers.legs.volatility': 'That prices this leg; the common one without it',
  'StructureBySymbol.legs': 'Listed options, and the underlying',
  'StructureBySymbol.legs.quantity': 'Contracts held; below 0 where they are owed',
  'StructureBySymbol.legs.price':
    'Paid for one unit of underlying; the mid without it, of the underlying its price now',
  'StructureEvaluation.name': 'Common name of the structure; custom where it has none',
  'StructureEvaluation.isReversed': 'Whether it is the other side of what that name usually means',
  'StructureEvaluation.cost': 'Sum of quantity times price times multiplier: paid above 0, got below',
  'StructureEvaluation.value': 'Worth now by theory, in currency; of listed options alone',
  'StructureEvaluation.maxProfit': 'At the first expiry, in currency; null where it has no end',
  'StructureEvaluation.maxLoss':
    'Minus the lowest profit at the first expiry, in currency: below 0 where nothing can be lost; null where it has no end',
  'StructureEvaluation.breakEvens': 'Prices of the underlying at the first expiry without profit or loss, ascending',
  'StructureEvaluation.probabilityOfProfit':
    'Of a profit above 0 at the first expiry, decimal; null where nothing tells the law of the price',
  'StructureEvaluation.greeks': 'Of the whole now, times multiplier',
  'StructureEvaluation.firstExpiry': 'Civil date of the first expiry; null of the underlying alone',
  'HedgeRequest.position': 'Sums of what is held',
  'HedgeRequest.instruments': 'What may be traded, each by one unit of it',
  'HedgeRequest.instruments.cost':
    'Of trading one unit either way, such as half its spread; chooses where there is choice',
  'HedgeRequest.neutralize': 'Sums that are to be brought to nothing',
  'HedgeRequest.underlying':
    'Whether the underlying may be traded, last of all: delta 1 and nothing else; true where delta is neutralized',
  'HedgeRequest.wholeContracts': 'Whether only whole numbers are traded, as near to nothing as they come',
  'HedgeAnswer.trades': 'In the order in which they are made, the underlying last',
  'HedgeAnswer.trades.quantity': 'Units to buy; below 0 to sell',
  'HedgeAnswer.steps': 'Sums before the trades, and after each',
  'HedgeAnswer.steps.after': 'Name of the trade; start before any',
};
