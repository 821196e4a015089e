import {
  centralRange,
  humpsOf,
  meanAbsolute,
  oneDeviation,
  type PriceLaw,
  symmetricMove,
  varianceMove,
} from '@umwelt/core/probability';
import { SESSIONS_PER_YEAR } from '@umwelt/core/volatility';
import { finiteOrNull } from '../api/finite-or-null.ts';
import type { ExpiryPicture, Picture } from '../api/picture.ts';
import type { MoveKind, RangeExpiry } from '../api/range.ts';
import { expiryLaw } from './expiry-law.ts';
import { quotedStraddle } from './quoted-straddle.ts';

/** How far the price is thought to go by an expiry, in every way in which that is said. */
export function rangeOf(
  picture: Pick<Picture, 'events' | 'asOf'>,
  expiry: ExpiryPicture,
  coverages: readonly number[],
): RangeExpiry {
  const law = expiryLaw(expiry);
  const moves = movesOf(expiry, law);
  const covered = (move: number) => ({
    move: finiteOrNull(move),
    coverage: law ? finiteOrNull(symmetricMove(law, move).coverage) : null,
  });
  const rounds = law && expiry.smile?.model !== 'flat' ? humpsOf(law).map((hump) => hump.price) : [];
  return {
    date: expiry.date,
    days: expiry.days,
    forward: expiry.forward,
    straddle: finiteOrNull(moves.straddle),
    oneSigma: finiteOrNull(moves.oneSigma),
    meanAbsolute: finiteOrNull(moves.meanAbsolute),
    varianceMove: finiteOrNull(moves.varianceMove),
    dailyMove: finiteOrNull((expiry.forward * (expiry.atm ?? NaN)) / Math.sqrt(SESSIONS_PER_YEAR)),
    ranges: coverages.map((coverage) => {
      const { low, high } = law ? centralRange(law, coverage) : { low: NaN, high: NaN };
      return {
        coverage,
        low: finiteOrNull(low),
        high: finiteOrNull(high),
        lowListed: listedAround(expiry.strikes, low),
        highListed: listedAround(expiry.strikes, high),
      };
    }),
    coverages: {
      straddle: covered(moves.straddle),
      oneSigma: covered(moves.oneSigma),
      meanAbsolute: covered(moves.meanAbsolute),
      varianceMove: covered(moves.varianceMove),
    },
    events: picture.events
      .filter((e) => Date.parse(e.instant) <= Date.parse(expiry.expiry))
      .map(({ label, instant, implied }) => ({
        label,
        instant,
        // One standard deviation, as a share of the price; null where the expiries do not tell.
        move: implied ? implied.move * expiry.forward : null,
      })),
    humps: rounds,
    wings: law && expiry.smile?.model !== 'flat' ? [...law.wings] : null,
  };
}

/** Moves of an expiry by kind, price; NaN where one is not known. */
function movesOf(expiry: ExpiryPicture, law: PriceLaw | undefined): Record<MoveKind, number> {
  return {
    straddle: quotedStraddle(expiry),
    oneSigma: law ? oneDeviation(law) : NaN,
    meanAbsolute: law ? meanAbsolute(law) : NaN,
    varianceMove: law && expiry.smile?.model !== 'flat' ? varianceMove(law) : NaN,
  };
}

/** The listed strikes next below and above a price, itself on both sides where it is listed. */
export function listedAround(strikes: readonly number[], price: number): [number | null, number | null] {
  if (Number.isNaN(price)) return [null, null];
  return [strikes.findLast((k) => k <= price) ?? null, strikes.find((k) => k >= price) ?? null];
}
