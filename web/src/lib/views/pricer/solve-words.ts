const WORDS: Record<string, string> = {
  'below-intrinsic': 'Below what exercise brings: no volatility makes it so cheap.',
  'above-bound': 'Above what the option can ever be worth: no volatility makes it so dear.',
  'not-a-number': 'The target is not a number.',
  'not-converged': 'The search did not settle; move an input a little.',
  'no-solution': 'No value of this input reaches the target.',
};

/** Why a search found nothing. */
export function solveWords(reason: string): string {
  return WORDS[reason] ?? reason;
}
