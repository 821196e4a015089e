import { borrowedSmile, describedSmile, fittedShift, type Smile } from '@umwelt/core/surface';
import type { BorrowedSmilePicture, BorrowResponse, BorrowState, SmileLink } from '../../api/borrow.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import { nearestInTime } from '../../market/index.ts';
import type { Database } from '../database/connect.ts';
import { deleteSmileLink, saveSmileLink, smileLinkOf } from '../repositories/smile-links.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { loadPicture } from './picture.ts';

/** Longest chain that is followed. */
const MOST_LINKS = 8;
/** Donor quotes this much older than the borrower's are called stale, milliseconds. */
const STALE = 20 * 60_000;

/** Donors from the nearest on; `isCycle` when the chain comes back to the borrower or to itself. */
async function donorChain(
  database: Database,
  owner: string,
  symbol: string,
  first: SmileLink,
): Promise<{ links: SmileLink[]; isCycle: boolean }> {
  const links = [first];
  const seen = new Set([symbol]);
  for (;;) {
    const { donor } = links[links.length - 1];
    if (seen.has(donor) || links.length > MOST_LINKS) return { links, isCycle: true };
    seen.add(donor);
    const next = await smileLinkOf(database, owner, donor);
    if (!next) return { links, isCycle: false };
    links.push(next);
  }
}

export type KeepLinkResult =
  | { ok: true }
  | { ok: false; reason: 'unknown-underlying' | 'unknown-donor' }
  | { ok: false; reason: 'cycle'; chain: string[] };

/** Keeps a link, unless its chain would lead back. */
export async function keepLink(
  database: Database,
  owner: string,
  symbol: string,
  link: SmileLink,
): Promise<KeepLinkResult> {
  if (!(await findUnderlying(database, symbol))) return { ok: false, reason: 'unknown-underlying' };
  if (!(await findUnderlying(database, link.donor))) return { ok: false, reason: 'unknown-donor' };
  const { links, isCycle } = await donorChain(database, owner, symbol, link);
  if (isCycle) return { ok: false, reason: 'cycle', chain: [symbol, ...links.map((l) => l.donor)] };
  await saveSmileLink(database, owner, symbol, link);
  return { ok: true };
}

export function dropLink(database: Database, owner: string, symbol: string): Promise<void> {
  return deleteSmileLink(database, owner, symbol);
}

/** What an underlying borrows at the instant of its picture: the link's state, and a smile for each expiry it can have. */
export async function borrowOf(database: Database, owner: string, picture: Picture): Promise<BorrowResponse> {
  const { symbol } = picture.underlying;
  const link = await smileLinkOf(database, owner, symbol);
  if (!link) return { state: null, expiries: {} };
  const { links, isCycle } = await donorChain(database, owner, symbol, link);
  const chain = links.map((l) => l.donor);
  const state: BorrowState = { link, chain, donorAsOf: null, trouble: null, isStale: false };
  if (isCycle) return { state: { ...state, trouble: 'cycle' }, expiries: {} };
  const lenders: Picture[] = [];
  for (const donor of chain) {
    const loaded = await loadPicture(database, donor, { asOf: picture.asOf, forwardSource: 'parity', restored: [] });
    // Before its first instant an underlying is shown at that: what is not known yet cannot be borrowed.
    const isLater = loaded.ok && Date.parse(loaded.picture.asOf) > Date.parse(picture.asOf);
    if (!loaded.ok || isLater) {
      const isMissing = !loaded.ok && loaded.reason === 'unknown-underlying';
      return { state: { ...state, trouble: isMissing ? 'donor-missing' : 'donor-without-quotes' }, expiries: {} };
    }
    lenders.push(loaded.picture);
  }
  const oldest = Math.min(...lenders.map((p) => Date.parse(p.asOf)));
  const expiries: Record<string, BorrowedSmilePicture> = {};
  for (const expiry of picture.expiries) {
    const borrowed = borrowFor(expiry, links, lenders);
    if (borrowed) expiries[expiry.date] = borrowed;
  }
  return {
    state: { ...state, donorAsOf: lenders[0].asOf, isStale: Date.parse(picture.asOf) - oldest > STALE },
    expiries,
  };
}

/** The chain's smiles from its far end to the borrower, each lender at the expiry nearest to the borrower's. */
function borrowFor(expiry: ExpiryPicture, links: SmileLink[], lenders: Picture[]): BorrowedSmilePicture | undefined {
  const path: ExpiryPicture[] = [];
  let near = expiry;
  for (const lender of lenders) {
    const next = nearestExpiry(lender, near);
    if (!next) return undefined;
    path.push(next);
    near = next;
  }
  const source = path[path.length - 1];
  if (!source.smile) return undefined;
  const base: BorrowedSmilePicture['base'] = { smile: source.smile, years: source.years };
  let smile: Smile = describedSmile(source.smile, source.years);
  const steps: BorrowedSmilePicture['steps'] = [];
  for (let i = links.length - 1; i >= 0; i--) {
    const borrower = i === 0 ? expiry : path[i - 1];
    const { kind, shift, ratio } = links[i];
    // Without a smile of its own the borrower has no level: the donor's stands.
    const step = {
      kind: borrower.atm === null ? 'total' : kind,
      atm: borrower.atm ?? 0,
      logRatio: Math.log(ratio),
    } as const;
    const plain = borrowedSmile(smile, borrower.years, { ...step, shift: 0 });
    const moved = shift ?? fittedShift(plain, fittedQuotes(borrower));
    smile = borrowedSmile(smile, borrower.years, { ...step, shift: moved });
    steps.push({ ...step, shift: moved, years: borrower.years });
  }
  const [donor] = path;
  return {
    donor: lenders[0].underlying.symbol,
    donorExpiry: donor.date,
    isOtherDate: donor.date !== expiry.date,
    base,
    steps,
  };
}

/** Expiry of the same date, else the nearest in time, among those with a smile in line. */
function nearestExpiry(lender: Picture, expiry: ExpiryPicture): ExpiryPicture | undefined {
  const able = lender.expiries.filter((e) => e.smile !== null && e.smile.model !== 'flat' && e.outlier === null);
  return able.find((e) => e.date === expiry.date) ?? nearestInTime(able, expiry.years, (e) => e.years);
}

/** Out-of-the-money quotes that may level a borrowed smile. */
function fittedQuotes(expiry: ExpiryPicture) {
  return expiry.strikes.flatMap((strike, i) => {
    const side = strike >= expiry.forward ? 'call' : 'put';
    const { midVolatility, askVolatility, bidVolatility, verdict } = expiry[side];
    const [volatility, bid, ask] = [midVolatility[i], bidVolatility[i], askVolatility[i]];
    if (verdict[i] !== null || volatility === null || ask === null) return [];
    const halfWidth = Math.max(0.0005, 0.5 * (ask - (bid ?? 0)));
    return [{ logMoneyness: Math.log(strike / expiry.forward), volatility, halfWidth }];
  });
}
