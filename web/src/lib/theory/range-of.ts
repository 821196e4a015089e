import {
  centralRange,
  humpsOf,
  meanAbsolute,
  oneDeviation,
  priceLaw,
  type PriceLaw,
  symmetricMove,
  varianceMove,
} from '@umwelt/core/probability';
import { SESSIONS_PER_YEAR } from '@umwelt/core/volatility';
import { finiteOrNull } from '../api/finite-or-null.ts';
import type { ExpiryPicture, Picture } from '../api/picture.ts';
import type { MoveKind, RangeExpiry } from '../api/range.ts';
import { surfaceAgain } from '../market/index.ts';
import { expiryLaw, OF_LEVEL } from './expiry-law.ts';
import { quotedStraddle } from './quoted-straddle.ts';

/** What a day is told by: the law of the price then, and what quotes add where options are listed for it. */
interface DayLaw {
  date: string;
  days: number;
  forward: number;
  /** Last instant of it, in milliseconds */
  until: number;
  atm: number;
  law: PriceLaw | undefined;
  /** A level alone has no variance swap, no humps and no wings of its own */
  isLevel: boolean;
  /** The quoted straddle at the forward; NaN where nothing is listed */
  straddle: number;
  strikes: readonly number[];
}

const DAYS_PER_YEAR = 365;
const DAY = 86_400_000;

/** How far the price is thought to go by an expiry, in every way in which that is said. */
export function rangeOf(
  picture: Pick<Picture, 'events'>,
  expiry: ExpiryPicture,
  coverages: readonly number[],
): RangeExpiry {
  const { date, days, forward, strikes } = expiry;
  return rangeOfLaw(picture, coverages, {
    ...{ date, days, forward, strikes },
    until: Date.parse(expiry.expiry),
    atm: expiry.atm ?? NaN,
    law: expiryLaw(expiry),
    isLevel: expiry.smile?.model === 'flat',
    straddle: quotedStraddle(expiry),
  });
}

/**
 * The same by a day on which no option expires, from the surface: variance linear over event-adjusted time between the expiries
 * around it, quotes reaching as far, in deviations, as the nearer-reaching of the two.
 * @param days from now
 * @returns null before the first and after the last expiry, where there is nothing to tell it from
 */
export function rangeBetween(
  picture: Pick<Picture, 'asOf' | 'price' | 'expiries' | 'jumps' | 'events'>,
  days: number,
  coverages: readonly number[],
): RangeExpiry | null {
  const until = Date.parse(picture.asOf) + days * DAY;
  const fitted = picture.expiries.filter((e) => e.smile && e.outlier === null);
  const after = fitted.findIndex((e) => e.days >= days);
  const surface = surfaceAgain(picture);
  const years = days / DAYS_PER_YEAR;
  if (!surface || after < 1) return null;
  const smile = surface.smileAt(years);
  const forward = surface.forwardAt(years);
  const around = [fitted[after - 1], fitted[after]];
  const isLevel = around.some((e) => e.smile?.model === 'flat');
  return rangeOfLaw(picture, coverages, {
    ...{ date: new Date(until).toISOString().slice(0, 10), days, forward, until, isLevel },
    atm: Math.sqrt(smile.totalVariance(0) / years),
    law: priceLaw({ smile, forward, range: reachBetween(around, years) }),
    straddle: NaN,
    strikes: [],
  });
}

/** How far the quotes around a day reach, as logarithms of moneyness of that day; a level reaches anywhere. */
function reachBetween(around: readonly ExpiryPicture[], years: number): readonly [number, number] {
  let [low, high] = OF_LEVEL;
  for (const { smile, years: at } of around) {
    if (!smile || smile.model === 'flat') continue;
    const scale = Math.sqrt(years / at);
    [low, high] = [Math.max(low, smile.range[0] * scale), Math.min(high, smile.range[1] * scale)];
  }
  return [low, high];
}

function rangeOfLaw({ events }: Pick<Picture, 'events'>, coverages: readonly number[], day: DayLaw): RangeExpiry {
  const { law, forward, isLevel, strikes } = day;
  const covered = (move: number) => ({
    move: finiteOrNull(move),
    coverage: law ? finiteOrNull(symmetricMove(law, move).coverage) : null,
  });
  const moves: Record<MoveKind, number> = {
    straddle: day.straddle,
    oneSigma: law ? oneDeviation(law) : NaN,
    meanAbsolute: law ? meanAbsolute(law) : NaN,
    varianceMove: law && !isLevel ? varianceMove(law) : NaN,
  };
  return {
    ...{ date: day.date, days: day.days, forward },
    straddle: finiteOrNull(moves.straddle),
    oneSigma: finiteOrNull(moves.oneSigma),
    meanAbsolute: finiteOrNull(moves.meanAbsolute),
    varianceMove: finiteOrNull(moves.varianceMove),
    dailyMove: finiteOrNull((forward * day.atm) / Math.sqrt(SESSIONS_PER_YEAR)),
    ranges: coverages.map((coverage) => {
      const { low, high } = law ? centralRange(law, coverage) : { low: NaN, high: NaN };
      return {
        coverage,
        low: finiteOrNull(low),
        high: finiteOrNull(high),
        lowListed: listedAround(strikes, low),
        highListed: listedAround(strikes, high),
      };
    }),
    coverages: {
      straddle: covered(moves.straddle),
      oneSigma: covered(moves.oneSigma),
      meanAbsolute: covered(moves.meanAbsolute),
      varianceMove: covered(moves.varianceMove),
    },
    events: events
      .filter((e) => Date.parse(e.instant) <= day.until)
      .map(({ label, instant, implied }) => ({
        label,
        instant,
        // One standard deviation, as a share of the price; null where the expiries do not tell.
        move: implied ? implied.move * forward : null,
      })),
    humps: law && !isLevel ? humpsOf(law).map((hump) => hump.price) : [],
    wings: law && !isLevel ? [...law.wings] : null,
  };
}

/** The listed strikes next below and above a price, itself on both sides where it is listed. */
export function listedAround(strikes: readonly number[], price: number): [number | null, number | null] {
  if (Number.isNaN(price)) return [null, null];
  return [strikes.findLast((k) => k <= price) ?? null, strikes.find((k) => k >= price) ?? null];
}
