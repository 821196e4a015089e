import type { Script } from './listing.ts';
import { mixSeed, type RandomSource, randomSource } from '../random/index.ts';
import { varianceSeason } from './total-variance.ts';
import { SECTORS, UNIVERSE } from './universe.ts';

/** State of one underlying besides its price: what its smiles are made from. */
export interface SmileState {
  /** Diffusive variance now, per year */
  variance: number;
  /** Variance to which far expiries revert, per year */
  longVariance: number;
  /** Tilt of the smile, -1 to 1, and its strength */
  tilt: number;
  strength: number;
}

/** Sessions a year: volatility per year turns into moves per session. */
const SESSIONS_PER_YEAR = 252;
/** Jumps of the whole market a year, mean and deviation of their size, and what they do to every logarithm of variance. */
const MARKET_JUMP = { perYear: 1.3, mean: -0.02, deviation: 0.009, variance: 0.3 };
/** Jumps of one underlying alone, in its own daily deviations. */
const OWN_JUMP = { perYear: 0.7, deviations: 2.5, variance: 0.2 };
/** Slow moves of the far level, of tilt and of strength: speed per year and stationary deviation. */
const FAR = { speed: 3, deviation: 0.08 };
const TILT = { speed: 18, deviation: 0.05 };
const STRENGTH = { speed: 18, deviation: 0.06 };
/** Variance stays within these multiples of what the script says. */
const BOUNDS = [0.25, 6] as const;
const LARGEST_TILT = 0.92;

/** Value of a script a number of sessions before today (negative after). */
export function scriptAt(script: Script, sessionsBefore: number): number {
  let previous = script[0];
  if (sessionsBefore >= previous[0]) return previous[1];
  for (const knot of script.slice(1)) {
    if (sessionsBefore >= knot[0]) {
      const share = (previous[0] - sessionsBefore) / (previous[0] - knot[0]);
      return previous[1] + share * (knot[1] - previous[1]);
    }
    previous = knot;
  }
  return previous[1];
}

/**
 * The market's stochastic model: per underlying a logarithm of variance that reverts to its script and moves with the
 * price (and with a common variance factor), one market and eight sector factors for the returns, jumps of all together
 * and of each alone, slow moves of the smile's tilt, strength and far level.
 * Scheduled events and dividends are not its business: whoever drives it adds them.
 */
export class MarketProcess {
  #common: RandomSource;
  #own: RandomSource[];
  readonly #logVariance: Float64Array;
  readonly #far: Float64Array;
  readonly #tilt: Float64Array;
  readonly #strength: Float64Array;
  readonly #returns = new Float64Array(UNIVERSE.length);
  readonly #sectorOf = UNIVERSE.map((u) => SECTORS.indexOf(u.sector));
  readonly #targets = new Float64Array(UNIVERSE.length);
  readonly #seasons = new Float64Array(UNIVERSE.length);
  #day = NaN;
  readonly #sectors = new Float64Array(SECTORS.length);

  /**
   * @param sessionsBefore of the start, before today
   * @param going states to go on from, within a day that has begun; the script's own at a day's start without them
   */
  constructor(seed: number, sessionsBefore: number, going?: { from: readonly SmileState[]; day: number }) {
    const from = going?.from;
    this.#common = randomSource(mixSeed(seed, 1));
    this.#own = UNIVERSE.map((_, i) => randomSource(mixSeed(seed, 2, i)));
    const column = (value: (i: number, state: SmileState) => number, otherwise: (i: number) => number) =>
      Float64Array.from(UNIVERSE, (_, i) => (from ? value(i, from[i]) : otherwise(i)));
    const zero = () => 0;
    this.#logVariance = column(
      (_, state) => Math.log(state.variance),
      (i) => 2 * Math.log(scriptAt(UNIVERSE[i].character.level, sessionsBefore)),
    );
    this.#far = column((i, state) => 0.5 * Math.log(state.longVariance / UNIVERSE[i].character.longLevel ** 2), zero);
    this.#tilt = column((i, state) => state.tilt - scriptAt(UNIVERSE[i].character.tilt, sessionsBefore), zero);
    this.#strength = column((i, state) => Math.log(state.strength / UNIVERSE[i].character.strength), zero);
    if (going) this.#setDay(sessionsBefore, going.day);
  }

  /** Goes on with the random numbers of another seed, so that a process can be taken up where it was left. */
  reseed(seed: number): void {
    this.#common = randomSource(mixSeed(seed, 1));
    this.#own = UNIVERSE.map((_, i) => randomSource(mixSeed(seed, 2, i)));
  }

  /**
   * Moves everything on and gives each underlying's return (change of the logarithm of price).
   * @param sessionShare variance of the step as a share of one session's, e.g. 0.25 for a night
   * @param sessionsBefore of the step's end, before today
   * @param day of the step's end; harvests make some months more volatile
   * @returns one buffer, overwritten by the next call
   */
  step(sessionShare: number, sessionsBefore: number, day: number): Float64Array {
    if (day !== this.#day) this.#beginDay(sessionsBefore, day);
    const years = sessionShare / SESSIONS_PER_YEAR;
    const root = Math.sqrt(years);
    const market = this.#common.normal();
    const commonVariance = this.#common.normal();
    for (let s = 0; s < this.#sectors.length; s++) this.#sectors[s] = this.#common.normal();
    const isMarketJump = this.#common.uniform() < MARKET_JUMP.perYear * years;
    const jump = MARKET_JUMP.mean + MARKET_JUMP.deviation * this.#common.normal();
    for (let i = 0; i < UNIVERSE.length; i++) {
      const { character } = UNIVERSE[i];
      const random = this.#own[i];
      const { marketLoading, sectorLoading, leverage, reversion, volatilityOfVariance, realizedShare } = character;
      const alone = Math.sqrt(Math.max(0, 1 - marketLoading ** 2 - sectorLoading ** 2));
      const shock = marketLoading * market + sectorLoading * this.#sectors[this.#sectorOf[i]] + alone * random.normal();
      const variance = Math.exp(this.#logVariance[i]);
      const deviation = Math.sqrt(variance * this.#seasons[i]) * realizedShare;
      let move = -0.5 * deviation * deviation * years + deviation * root * shock;
      const blended = leverage * shock + Math.sqrt(1 - leverage ** 2) * (0.6 * commonVariance + 0.8 * random.normal());
      const target = this.#targets[i];
      let logVariance =
        this.#logVariance[i] +
        reversion * (target - this.#logVariance[i]) * years +
        volatilityOfVariance * root * blended;
      if (isMarketJump) {
        move += jump * marketLoading;
        logVariance += MARKET_JUMP.variance * marketLoading;
      }
      if (random.uniform() < OWN_JUMP.perYear * years && !character.follows) {
        move += OWN_JUMP.deviations * deviation * random.normal() * Math.sqrt(1 / SESSIONS_PER_YEAR);
        logVariance += OWN_JUMP.variance;
      }
      this.#logVariance[i] = Math.min(
        Math.max(logVariance, target + Math.log(BOUNDS[0])),
        target + Math.log(BOUNDS[1]),
      );
      this.#returns[i] = move;
    }
    this.#follow();
    return this.#returns;
  }

  /** Scripts and seasons change by the day. */
  #setDay(sessionsBefore: number, day: number): void {
    this.#day = day;
    for (const [i, { character }] of UNIVERSE.entries()) {
      this.#targets[i] = 2 * Math.log(scriptAt(character.level, sessionsBefore));
      this.#seasons[i] = varianceSeason(character, day);
    }
  }

  /** A new day also brings the smile's slow moves. */
  #beginDay(sessionsBefore: number, day: number): void {
    this.#setDay(sessionsBefore, day);
    for (const [i, random] of this.#own.entries()) {
      this.#far[i] = revert(this.#far[i], FAR, random.normal());
      this.#tilt[i] = revert(this.#tilt[i], TILT, random.normal());
      this.#strength[i] = revert(this.#strength[i], STRENGTH, random.normal());
    }
  }

  /** A follower's state and return are those of what it follows. */
  #follow(): void {
    for (const [i, { character }] of UNIVERSE.entries()) {
      if (!character.follows) continue;
      const leader = UNIVERSE.findIndex((u) => u.symbol === character.follows?.symbol);
      for (const column of [this.#returns, this.#logVariance, this.#far, this.#tilt, this.#strength]) {
        column[i] = column[leader];
      }
    }
  }

  /** Smile state of underlying `i`. @param sessionsBefore today */
  smileState(i: number, sessionsBefore: number): SmileState {
    const { character } = UNIVERSE[i];
    const tilt = scriptAt(character.tilt, sessionsBefore) + this.#tilt[i];
    return {
      variance: Math.exp(this.#logVariance[i]),
      longVariance: (character.longLevel * Math.exp(this.#far[i])) ** 2,
      tilt: Math.min(Math.max(tilt, -LARGEST_TILT), LARGEST_TILT),
      strength: character.strength * Math.exp(this.#strength[i]),
    };
  }
}

/** One session of a slow move back to zero. */
function revert(value: number, o: { speed: number; deviation: number }, shock: number): number {
  const years = 1 / SESSIONS_PER_YEAR;
  return value - o.speed * value * years + o.deviation * Math.sqrt(2 * o.speed * years) * shock;
}
