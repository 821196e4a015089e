import { describedSmile, smileVolatility } from '@umwelt/core/surface';
import { keptDays } from '@umwelt/market/veldmar';
import { beforeAll, expect, test } from 'vitest';
import { borrowedSmileOf, expirySmile } from '../../src/lib/theory/index.ts';
import { sideChanges } from '../../src/lib/views/skew/skew-year.ts';
import { replayFrames } from '../../src/lib/views/skew/replay-frames.ts';
import type { Picture } from '../../src/lib/api/picture.ts';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { borrowOf, dropLink, keepLink } from '../../src/lib/server/services/borrow.ts';
import { storeDemoChains } from '../../src/lib/server/demo/demo-chains.ts';
import { loadPicture } from '../../src/lib/server/services/picture.ts';
import { measuresBefore } from '../../src/lib/server/services/measures-before.ts';
import { skewHistoryOf } from '../../src/lib/server/services/skew-history.ts';
import { levelMeasure, STORED_MEASURES } from '../../src/lib/measures/index.ts';
import { deriveMissing } from './derive-missing.ts';
import { demoStore } from './demo-store.ts';

/* Smiles borrowed through links in the database, and the year of smiles that measures keep. */

const store = demoStore();
const DAYS = 6;

beforeAll(async () => {
  const days = keptDays('TERN').slice(-DAYS - 1, -1);
  await storeDemoChains(store.connection, { symbol: 'TERN', from: days[0], to: days[days.length - 1] }, () =>
    Promise.resolve(),
  );
});

async function pictureOf(symbol: string): Promise<Picture> {
  const loaded = await loadPicture(store.connection.database, symbol, asOfContext.parse({}));
  if (!loaded.ok) throw new Error(loaded.reason);
  return loaded.picture;
}

test("a link follows its donor: the fund's April smile is the index's April shape on the fund's own level", async () => {
  const { database } = store.connection;
  expect(await keepLink(database, 'local', 'VFUND', { donor: 'VM50', kind: 'shape', shift: null, ratio: 1 })).toEqual({
    ok: true,
  });
  const [fund, index] = [await pictureOf('VFUND'), await pictureOf('VM50')];
  const { state, expiries } = await borrowOf(database, 'local', fund);
  expect(state).toMatchObject({ chain: ['VM50'], trouble: null, isStale: false });
  const date = '2031-04-18';
  const own = fund.expiries.find((e) => e.date === date);
  const donor = index.expiries.find((e) => e.date === date);
  if (!own || !donor || own.atm === null || donor.atm === null) throw new Error('no April smile');
  expect(expiries[date]).toMatchObject({ donor: 'VM50', donorExpiry: date, isOtherDate: false });
  const smile = borrowedSmileOf({ ...own, borrowed: expiries[date] });
  const lent = expirySmile(donor);
  if (!smile || !lent) throw new Error('no smile');
  const shift = expiries[date].steps[0].shift;
  for (const z of [-2, -1, 0, 1]) {
    const expected = (own.atm * smileVolatility(lent, z * donor.atm * Math.sqrt(donor.years))) / donor.atm + shift;
    expect(smileVolatility(smile, z * own.atm * Math.sqrt(own.years))).toBeCloseTo(expected, 10);
  }
  // The index's quotes say more of the fund than its own: fitted to those, the level moves by little.
  expect(Math.abs(shift)).toBeLessThan(0.005);
});

test('chains are followed to their end and may not lead back, to the borrower or within', async () => {
  const { database } = store.connection;
  const link = { kind: 'total', shift: 0, ratio: 1 } as const;
  expect(await keepLink(database, 'local', 'VMQ', { ...link, donor: 'VFUND' })).toEqual({ ok: true });
  const future = await pictureOf('VMQ');
  const { state, expiries } = await borrowOf(database, 'local', future);
  expect(state?.chain).toEqual(['VFUND', 'VM50']);
  const [first] = Object.values(expiries);
  expect(first.steps).toHaveLength(2);
  expect(await keepLink(database, 'local', 'VM50', { ...link, donor: 'VMQ' })).toEqual({
    ok: false,
    reason: 'cycle',
    chain: ['VM50', 'VMQ', 'VFUND', 'VM50'],
  });
  expect(await keepLink(database, 'local', 'VM50', { ...link, donor: 'VM50' })).toMatchObject({ reason: 'cycle' });
  expect(await keepLink(database, 'local', 'VM50', { ...link, donor: 'NOBODY' })).toMatchObject({
    reason: 'unknown-donor',
  });
  await dropLink(database, 'local', 'VMQ');
  expect((await borrowOf(database, 'local', future)).state).toBeNull();
  // Another owner's links are their own.
  expect((await borrowOf(database, 'somebody', await pictureOf('VFUND'))).state).toBeNull();
});

test('a donor that is gone, or has no quotes yet, is said and nothing is borrowed', async () => {
  const { database, sql } = store.connection;
  const fund = await pictureOf('VFUND');
  const late = await borrowOf(database, 'local', { ...fund, asOf: '2030-06-03T17:30:00+01:00' });
  // What is stored of the donor is nothing at or before that instant.
  expect(late.state?.trouble).toBe('donor-without-quotes');
  await sql`delete from underlyings where symbol = 'VM50'`;
  const gone = await borrowOf(database, 'local', fund);
  expect(gone.state?.trouble).toBe('donor-missing');
  expect(gone.expiries).toEqual({});
});

test('the year of skew comes from the measures: one session each, with price, risk reversal and smile', async () => {
  const { database } = store.connection;
  const tern = await findUnderlying(database, 'TERN');
  if (!tern) throw new Error('TERN');
  const history = await skewHistoryOf(database, tern, new Date('2031-03-14T13:00:00Z'), 30);
  // Today's, too.
  expect(history.sessions).toHaveLength(DAYS + 1);
  const [session] = history.sessions;
  expect(session.riskReversal25).toBeGreaterThan(0);
  if (!session.smile) throw new Error('no smile');
  const smile = describedSmile(session.smile.smile, session.smile.years);
  // Nearest to 30 days, so near the 30-day volatility.
  expect(Math.abs(smileVolatility(smile, 0) - (session.atm30 ?? NaN))).toBeLessThan(0.01);
  const { frames, range } = replayFrames(history.sessions);
  expect(frames).toHaveLength(DAYS + 1);
  expect(frames[0].atm).toBeGreaterThanOrEqual(range[0]);
  expect(frames[0].price).toBe(session.price);
  const turned = history.sessions.map((s, i) => ({ ...s, riskReversal25: (i < 3 ? -1 : 1) * (s.riskReversal25 ?? 0) }));
  expect(sideChanges(turned)).toEqual([{ date: turned[3].instant.slice(0, 10), to: 'call' }]);
  expect(sideChanges(history.sessions)).toEqual([]);
});

test('what is kept of a session are the measures of the catalogue at that instant, under their names', async () => {
  const { connection } = store;
  const { database } = connection;
  // Its quotes imply a carry of their own.
  await deriveMissing(connection);
  for (const symbol of ['TERN', 'VFUND', 'GUSTA']) {
    const stored = await findUnderlying(database, symbol);
    if (!stored) throw new Error(symbol);
    const picture = await pictureOf(symbol);
    const { sessions } = await measuresBefore(database, stored, new Date(picture.asOf));
    const kept = sessions[sessions.length - 1];
    expect(kept.instant).toBe(picture.asOf);
    const subject = { picture, context: asOfContext.parse({}) };
    const known = Object.entries(kept.values).filter(([, value]) => value !== null);
    expect(known.length, symbol).toBeGreaterThan(symbol === 'GUSTA' ? 12 : 10);
    for (const [id, value] of known) {
      const measure = levelMeasure(id);
      if (!measure) throw new Error(`${id} is not in the catalogue`);
      const now = measure.value(subject);
      // Days beyond the expiries are kept of the nearest, and not shown.
      if (now !== null || !/At\d+$/.test(id)) expect(now, `${symbol} ${id}`).toBeCloseTo(value ?? NaN, 12);
    }
    expect(Object.keys(kept.values)).toEqual([...STORED_MEASURES]);
  }
});
