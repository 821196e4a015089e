const WORDS: Record<string, string> = {
  'below-intrinsic': 'below what it is worth at no volatility',
  'above-bound': 'above what it is worth at any volatility',
  'not-a-number': 'The target is not a number.',
  'not-converged': 'The search did not settle; move an input a little.',
  'no-solution': 'No value of this input reaches the target.',
};

/** Why a search found nothing. @param bound that the target breaks, as it is written */
export function solveWords(reason: string, bound?: string): string {
  const words = WORDS[reason] ?? reason;
  return bound === undefined ? words : `${words}, ${bound}`;
}
