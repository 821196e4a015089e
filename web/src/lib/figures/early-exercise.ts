import { describedSmile, earlyExercisePremium, premiumColumns, type Smile } from '@umwelt/core/surface';
import type { ExpiryPicture, Side } from '../schema/picture.ts';
import { borrowedSmileOf } from './expiry-smile.ts';
import { theoryVolatility, type VolatilityInForce } from './volatility-in-force.ts';

/** What early exercise adds to the price at each listed strike; 0 for European options. */
export type EarlyExercise = Record<Side, ArrayLike<number>>;

/** What early exercise is worth on the market's own smile, as the quotes were freed of it. */
export function marketEarlyExercise({ call, put }: ExpiryPicture): EarlyExercise {
  return { call: call.earlyExercise, put: put.earlyExercise };
}

/** The same where theory may use another volatility, with which it grows. */
export function earlyExercise(expiry: ExpiryPicture, inForce: VolatilityInForce): EarlyExercise {
  const { exercisedInto, strikes, forward } = expiry;
  const smile = exercisedInto && otherSmile(expiry, inForce);
  if (!smile) return marketEarlyExercise(expiry);
  const logMoneyness = Float64Array.from(strikes, (strike) => Math.log(strike / forward));
  const ends: [number, number] = [logMoneyness[0], logMoneyness[logMoneyness.length - 1]];
  const terms = { timeToExpiry: expiry.years, forward, rate: expiry.impliedRate, underlying: exercisedInto };
  const curves = earlyExercisePremium(terms, smile, ends, expiry.smile?.range ?? ends, 'fine');
  return premiumColumns(curves, logMoneyness, forward);
}

/** The same of many expiries, each computed once. */
export function earlyExerciseBy(inForce: VolatilityInForce): (expiry: ExpiryPicture) => EarlyExercise {
  const known = new Map<string, EarlyExercise>();
  return (expiry) => {
    const before = known.get(expiry.date);
    if (before) return before;
    const now = earlyExercise(expiry, inForce);
    known.set(expiry.date, now);
    return now;
  };
}

/** The smile in force where it is not the market's own, which an option's own volatility is near. */
function otherSmile(expiry: ExpiryPicture, inForce: VolatilityInForce): Smile | undefined {
  if (inForce.source === 'smile' || inForce.source === 'own') return undefined;
  if (inForce.source === 'borrowed') return borrowedSmileOf(expiry);
  const volatility = theoryVolatility(expiry, { side: 'call', strike: expiry.forward }, inForce);
  return volatility === null ? undefined : describedSmile({ model: 'flat', parameters: { volatility } }, expiry.years);
}

/** The same at any strike, linear between the listed ones. */
export function earlyExerciseAt({ strikes }: ExpiryPicture, side: Side, strike: number, listed: EarlyExercise): number {
  const column = listed[side];
  const next = strikes.findIndex((s) => s >= strike);
  if (next <= 0) return column[next === 0 ? 0 : column.length - 1] ?? 0;
  const share = (strike - strikes[next - 1]) / (strikes[next] - strikes[next - 1]);
  return column[next - 1] + share * (column[next] - column[next - 1]);
}
