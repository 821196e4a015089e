import { gzipSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import type { VolatilitySurface } from '@umwelt/core/surface';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import { marketResource } from '../../src/lib/api/market-resource.ts';
import { pastResource } from '../../src/lib/api/past-resource.ts';
import { joinPicture, picture } from '../../src/lib/api/picture.ts';
import { surfaceResource } from '../../src/lib/api/surface-resource.ts';
import { maturityAt, surfaceAgain } from '../../src/lib/market/index.ts';
import { deriveStored } from '../../src/lib/server/derive/derive-stored.ts';
import { sessionDate } from '../../src/lib/server/derive/session-date.ts';
import { eventsBetween } from '../../src/lib/server/repositories/events.ts';
import { slicesAt } from '../../src/lib/server/repositories/slices.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { carryAt } from '../../src/lib/server/services/carry-at.ts';
import { loadPicture, type MadePicture } from '../../src/lib/server/services/picture.ts';
import { demoStore } from './demo-store.ts';

/* What is sent of an underlying is all that was derived: the surface made of it again is the same to the bit. */

/** An index, American shares before an event, after one, and with a smile that splits in two, a future, a currency, a thin fund. */
const SYMBOLS = ['VM50', 'MERRO', 'TYNDA', 'RUNEX', 'RYE', 'TERN', 'VFUND'];

const store = demoStore();

async function madeOf(symbol: string): Promise<MadePicture> {
  const loaded = await loadPicture(store.connection.database, symbol, asOfContext.parse({}));
  if (!loaded.ok) throw new Error(loaded.reason);
  return loaded.made;
}

/** The surface as the server has it. */
async function derived(symbol: string): Promise<VolatilitySurface | undefined> {
  const { database } = store.connection;
  const underlying = await findUnderlying(database, symbol);
  if (!underlying) throw new Error(symbol);
  const instant = new Date((await madeOf(symbol)).picture.asOf);
  const rows = await slicesAt(database, underlying.id, instant);
  const to = rows[rows.length - 1].expiry;
  return deriveStored(rows, {
    dateOf: (at) => sessionDate(at, underlying.zone),
    carryOf: await carryAt(database, underlying, instant),
    events: await eventsBetween(database, { underlyingId: underlying.id, from: instant, to }),
    forwardSource: 'parity',
    restored: [],
  }).volatility;
}

describe.each(SYMBOLS)('%s', (symbol) => {
  test('the surface again is the same to the bit, at expiries, between and beyond them', async () => {
    const sent = surfaceResource.parse(JSON.parse((await madeOf(symbol)).text('surface')));
    const [own, again] = [await derived(symbol), surfaceAgain(sent)];
    if (!own || !again) throw new Error('no surface');
    expect(again.events).toEqual(own.events);
    const times = [1 / 365, ...sent.expiries.map((e) => e.years), 3];
    const between = times.slice(1).map((t, i) => times[i] + 0.37 * (t - times[i]));
    for (const time of [...times, ...between]) {
      expect(again.forwardAt(time)).toBe(own.forwardAt(time));
      expect(again.constantMaturity(time)).toEqual(own.constantMaturity(time));
      for (const share of [0.7, 0.93, 1, 1.02, 1.4]) {
        const strike = share * sent.price;
        expect(again.volatilityAt(time, { strike })).toBe(own.volatilityAt(time, { strike }));
        const place = { side: 'put', delta: 0.1 * share } as const;
        expect(again.volatilityAt(time, place)).toBe(own.volatilityAt(time, place));
      }
    }
    // Read at fixed days it is what the server read.
    expect(sent.maturities.length).toBeGreaterThan(2);
    for (const maturity of sent.maturities) expect(maturityAt(sent, maturity.days)).toEqual(maturity);
    expect(maturityAt(sent, 20_000)).toBeNull();
  });

  test('surface, past and quotes are by their schemas, and in one the picture', async () => {
    const made = await madeOf(symbol);
    const whole = picture.strict().parse(JSON.parse(made.text('picture')));
    const [surface, past, market] = [
      surfaceResource.strict().parse(JSON.parse(made.text('surface'))),
      pastResource.strict().parse(JSON.parse(made.text('past'))),
      marketResource.strict().parse(JSON.parse(made.text('market'))),
    ];
    expect(joinPicture(surface, past, market)).toEqual(whole);
    expect(made.picture).toEqual(whole);
    for (const [i, e] of whole.expiries.entries()) {
      const verdicts = [...market.expiries[i].call.verdict, ...market.expiries[i].put.verdict].filter(
        (v) => v !== null,
      );
      expect(e.keptOut.reduce((sum, k) => sum + k.count, 0)).toBe(verdicts.length);
      expect(Math.min(...e.strikes.map((k) => Math.abs(k - e.forward)))).toBe(Math.abs(e.atMoney.strike - e.forward));
    }
  });
});

test('among them are surfaces with steps at events, with splines and with levels', async () => {
  const all = await Promise.all(SYMBOLS.map(async (symbol) => (await madeOf(symbol)).picture));
  expect(all.some((p) => p.jumps.length > 0)).toBe(true);
  const models = new Set(all.flatMap((p) => p.expiries.map((e) => e.smile?.model)));
  expect(models).toEqual(new Set(['svi-raw', 'spline', 'flat']));
});

test("the index's surface with all its expiries is less than 30 kB on its way", async () => {
  const text = (await madeOf('VM50')).text('surface');
  expect((JSON.parse(text) as { expiries: unknown[] }).expiries.length).toBeGreaterThan(15);
  expect(gzipSync(text).length).toBeLessThan(30_000);
});
