import type { DerivingContext } from '../../api/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { OddsChoice, SourceOddsRow, StrikesChoice, StrikesResponse } from '../../api/range.ts';
import type { Database } from '../database/connect.ts';
import type { OddsBasis } from '../derive/odds-basis.ts';
import { compute } from '../derive/pool.ts';
import type { OddsInput } from '../../theory/index.ts';
import { pictureVersion } from '../repositories/data-version.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { borrowOf } from './borrow.ts';
import { endedSessions } from './ended-sessions.ts';
import { VersionedMemory } from './versioned-memory.ts';

/** As Level looks back. */
const MOST_BARS = 504 + 253;

const bases = new VersionedMemory<OddsBasis>(24);

/** Odds of which expiry are asked for. */
export interface AskedOdds {
  stored: StoredUnderlying;
  owner: string;
  picture: Picture;
  expiry: ExpiryPicture;
  context: DerivingContext;
  signal?: AbortSignal;
}

/** What every source answers to a question. */
export async function oddsOf(database: Database, asked: AskedOdds, choice: OddsChoice): Promise<SourceOddsRow[]> {
  const input = await oddsInput(database, asked, choice);
  return compute('odds', { input, choice }, { lane: laneOf(asked), signal: asked.signal });
}

/** Strikes for a probability. */
export async function strikesFor(
  database: Database,
  asked: AskedOdds,
  choice: StrikesChoice,
): Promise<StrikesResponse> {
  const input = await oddsInput(database, asked, choice);
  return compute('oddsStrikes', { input, choice }, { lane: laneOf(asked), signal: asked.signal });
}

const laneOf = ({ stored }: AskedOdds) => `odds ${stored.symbol}`;

async function oddsInput(
  database: Database,
  asked: AskedOdds,
  { volatility, drift }: Pick<OddsChoice, 'volatility' | 'drift'>,
): Promise<OddsInput> {
  const { owner, picture, expiry } = asked;
  const [basis, { expiries }] = await Promise.all([
    oddsBasisOf(database, asked, drift),
    borrowOf(database, owner, picture),
  ]);
  const borrowed = expiries[expiry.date];
  return {
    expiry: borrowed ? { ...expiry, borrowed } : expiry,
    index30: picture.index30,
    forecast: basis.forecast,
    history: basis.history,
    typed: volatility ?? null,
    drift,
  };
}

/** Forecast and drawn paths of an expiry, kept as long as what they are made of stays. */
export async function oddsBasisOf(
  database: Database,
  { stored, picture, expiry, context }: AskedOdds,
  drift: number,
): Promise<OddsBasis> {
  const instant = new Date(picture.asOf);
  const version = await pictureVersion(database, stored, instant);
  const { forwardSource, carry, financing, borrowCost, restored } = context;
  const key = JSON.stringify([
    ...[stored, picture.asOf, picture.isLive, expiry.date, drift],
    ...[forwardSource, carry, financing, borrowCost, restored],
  ]);
  return bases.recall(key, version, async () => {
    const ended = await endedSessions(database, stored, { instant, count: MOST_BARS });
    const growth = Math.log(expiry.forward / expiry.underlyingPrice) + drift * expiry.years;
    const { days } = expiry;
    return compute('oddsBasis', { ended, zone: stored.zone, days, growth }, { lane: `basis ${stored.symbol}` });
  });
}
