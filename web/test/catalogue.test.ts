import { black76Price } from '@umwelt/core/pricing';
import { describedSmile, smileMeasures } from '@umwelt/core/surface';
import { standing } from '@umwelt/core/volatility';
import { beforeEach, describe, expect, test } from 'vitest';
import {
  chainOptions,
  chainRow,
  DISTANCES,
  legValues,
  listedContract,
  listedValues,
  pricerFigures,
  sameDistance,
  spreadParts,
} from '../src/lib/theory/index.ts';
import {
  derivationOf,
  derivedValue,
  DISTANCE_MEASURES,
  distanceFigure,
  EXPIRY_COUNTS,
  EXPIRY_MEASURES,
  explainPricerFigure,
  figureId,
  fixedFigure,
  fixedMeasure,
  LEVEL_COUNTS,
  LEVEL_MEASURES,
  type Measure,
  PRICER_MEASURES,
  pricerFigureId,
  pricerProcedure,
  QUOTE_MEASURES,
  SPREAD_MEASURES,
  workingsOf,
} from '../src/lib/measures/index.ts';
import type { AsOfContext } from '../src/lib/api/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../src/lib/api/picture.ts';
import { contextOf, inForceOf, storedPicture, strikesOf, SYMBOLS } from './demo-pictures.ts';
import { madePicture } from './made-picture.ts';

/* Every measure comes from the unrounded inputs that Workings hold, by the very formula or function of core that they name. */

const pictures = new Map(SYMBOLS.map((symbol) => [symbol, storedPicture(symbol)]));
const pictureOf = (symbol: (typeof SYMBOLS)[number]) => pictures.get(symbol) as Picture;

describe('every measure comes from the unrounded inputs that Workings hold', () => {
  /** How often a measure was checked, those that rest on more than Workings hold, and what was wrong. */
  const walked = {
    checked: new Map<string, number>(),
    known: new Set<string>(),
    beyond: new Set<string>(),
    wrong: [] as string[],
  };

  beforeEach(() => {
    walked.wrong = [];
  });

  function walk<Subject>(measures: readonly Measure<Subject>[], subject: Subject, what: string, kind = ''): void {
    for (const measure of measures) {
      const id = kind + measure.id.replace(/At\d+$/, 'At');
      const derivation = derivationOf(measure, subject);
      const value = measure.value(subject);
      walked.known.add(id);
      // Whatever is unknown, it can be told why.
      const derived = derivedValue(derivation, measure.inputs(subject), measure.series?.(subject));
      if (value === null) continue;
      if (!derived) {
        walked.beyond.add(id);
        continue;
      }
      const error = Math.abs((derived.value ?? NaN) - value);
      if (!(error < 1e-9 * Math.max(1, Math.abs(value))))
        walked.wrong.push(`${what} ${id}: ${derivation.text} is ${derived.value}, shown ${value}`);
      walked.checked.set(id, (walked.checked.get(id) ?? 0) + 1);
    }
  }

  const subjectOf = (picture: Picture) => ({ picture, context: contextOf('smile') });

  function walkPicture(picture: Picture, volatilitySource: AsOfContext['volatilitySource']): void {
    const level = { picture, context: contextOf(volatilitySource, 0.31) };
    const { symbol } = picture.underlying;
    const fixed = picture.maturities.flatMap(({ days }) =>
      (['atm', 'riskReversal25', 'butterfly25'] as const).flatMap(
        (name) => fixedMeasure(fixedFigure(name, days)) ?? [],
      ),
    );
    walk([...LEVEL_MEASURES, ...LEVEL_COUNTS, ...fixed], level, symbol);
    for (const expiry of picture.expiries) {
      walk(EXPIRY_MEASURES, { ...level, expiry }, `${symbol} ${expiry.date} ${expiry.smile?.model}`);
      // Those take every quote's theory: of a few expiries they are enough.
      if (picture.expiries.indexOf(expiry) % 4 === 0) walkTogether(level, expiry);
      // The figures of a quote are the same formulas under every source: the fitted smile's are walked over more strikes.
      const strikes = volatilitySource === 'smile' ? strikesOf(expiry) : strikesOf(expiry).slice(0, 2).slice(-1);
      const options = strikes.flatMap((strike) => [
        { side: 'call' as const, strike },
        { side: 'put' as const, strike },
      ]);
      const values = listedValues(expiry, options, inForceOf(picture, volatilitySource, 0.31));
      options.forEach((option, i) => {
        const value = values[i];
        const contract = value && listedContract(expiry, option, value.volatility);
        const subject = { ...level, expiry, contract, row: chainRow(expiry, option, value) };
        walk(QUOTE_MEASURES, subject, `${symbol} ${expiry.date} ${option.strike} ${option.side}`);
      });
    }
  }

  /** What quotes are together: counts of them, puts and calls the same distance away, spreads of two. */
  function walkTogether(level: { picture: Picture; context: AsOfContext }, expiry: ExpiryPicture): void {
    const { symbol } = level.picture.underlying;
    const what = `${symbol} ${expiry.date}`;
    walk(EXPIRY_COUNTS, { ...level, expiry }, what);
    const counts = EXPIRY_COUNTS.filter((m) => m.id.endsWith('-both')).map((m) => m.value({ ...level, expiry }) ?? NaN);
    expect(
      counts.reduce((sum, n) => sum + n, 0),
      `${what}: each quote is counted once`,
    ).toBe(2 * expiry.strikes.length);
    for (const by of DISTANCES)
      for (const row of sameDistance(expiry, by).filter((_, i) => i % 4 === 1)) {
        walk(DISTANCE_MEASURES, { ...level, expiry, by, row }, `${what} ${by} ${row.distance}`, `${by}-`);
        const id = distanceFigure('ratio', expiry.date, by, row.distance);
        expect(workingsOf(level.picture, level.context, id)?.inputs, id).toHaveLength(2);
      }
    const legs = strikesOf(expiry)
      .slice(0, 2)
      .map((strike, i) => ({ expiry: expiry.date, side: 'call' as const, strike, ratio: 1 - 3 * i }));
    const parts = spreadParts(level.picture, [legs]);
    const values = parts.map((p) => listedValues(p.expiry, p.options, inForceOf(level.picture, 'smile')));
    const ofLegs = legValues(legs, parts, values);
    for (const ask of [-1e6, 1e6]) {
      const spread = { legs, bid: ask - 0.5, ask, bidSize: 3, askSize: 4 };
      walk(SPREAD_MEASURES, { spread, legValues: ofLegs, quoted: '' }, what, 'spread-');
    }
  }

  /** With a past, which the demo's first day has not. */
  function withPast(picture: Picture): Picture {
    const year = (now: number | null) => {
      const past = Array.from({ length: 250 }, (_, i) => (now ?? 0.2) * (0.6 + 0.9 * Math.sin(i) ** 2));
      const place = now === null ? undefined : standing(now, past);
      return place ? { ...place, rank: place.rank } : null;
    };
    return {
      ...picture,
      previousPrice: 0.98 * picture.price,
      standing: year(picture.atm30),
      indexStanding: year(picture.index30),
      shape: picture.shape && {
        ...picture.shape,
        riskReversal25: { ...picture.shape.riskReversal25, standing: year(picture.shape.riskReversal25.value) },
        butterfly25: { ...picture.shape.butterfly25, standing: year(picture.shape.butterfly25.value) },
      },
      expiries: picture.expiries.map((e) => ({ ...e, standing: year(e.atm) })),
    };
  }

  test.each(SYMBOLS)('%s, under the fitted smile, the option its own and one typed volatility', (symbol) => {
    const picture = withPast(pictureOf(symbol));
    for (const source of ['smile', 'own', 'typed'] as const) walkPicture(picture, source);
    // No rate of the demo lies a point from its curve, three hours before expiry or a year.
    for (const e of picture.expiries) expect(Math.abs(e.impliedRate - (e.curveRate ?? NaN)), e.date).toBeLessThan(0.01);
    expect(walked.wrong).toEqual([]);
  });

  test('an expiry with a spline, at the money and beyond its knots; one with under five quotes', () => {
    const merro = pictureOf('MERRO');
    const parameters = {
      knots: [-0.1, -0.02, 0.03, 0.12],
      totalVariance: [0.02, 0.016, 0.015, 0.018],
      curvature: [0, 0.9, 0.7, 0],
    };
    const bent = (expiry: ExpiryPicture): ExpiryPicture => {
      const smile = { ...expiry.smile, model: 'spline', parameters } as ExpiryPicture['smile'];
      const at = describedSmile({ model: 'spline', parameters }, expiry.years);
      const { riskReversal25, butterfly25, riskReversal10, butterfly10 } = smileMeasures(at);
      const atm = Math.sqrt(at.totalVariance(0) / expiry.years);
      const bentExpiry = { ...expiry, smile, atm, exEvent: null };
      // What it lies off its quotes now, each row as strike, bid, mid, offer and fit.
      const [quotes] =
        EXPIRY_MEASURES.find((m) => m.id === 'rmse')?.series?.({ ...subjectOf(merro), expiry: bentExpiry }) ?? [];
      const off = quotes.rows.map((row) => (row as number[]).slice(1));
      Object.assign(smile as object, {
        rmse: Math.sqrt(off.reduce((sum, [, mid, , fit]) => sum + (fit - mid) ** 2, 0) / off.length),
        insideMarket: off.filter(([bid, , ask, fit]) => fit >= bid && fit <= ask).length / off.length,
      });
      return { ...bentExpiry, riskReversal25, butterfly25, riskReversal10, butterfly10 };
    };
    // Events were made out from other levels at the money: nothing is said of them here.
    const events = merro.events.map((e) => ({ ...e, implied: null }));
    const others = merro.expiries.slice(1).map((e) => ({ ...e, exEvent: null }));
    walkPicture({ ...merro, events, expiries: [bent(merro.expiries[0]), ...others] }, 'smile');

    const few = madePicture({ strikes: 3 });
    expect(few.expiries.map((e) => e.smile?.levelReason)).toContain('too-few-points');
    walkPicture(few, 'smile');
    // One strike, both sides of it or none that is any good: no smile, and no term structure.
    const one = madePicture({ strikes: 1 });
    walkPicture(one, 'smile');
    const bare = one.expiries.map((e) => ({ ...e, smile: null, atm: null, exEvent: null }));
    walkPicture({ ...one, expiries: bare, month: null, maturities: [], atm30: null, term: null }, 'smile');
    expect(walked.wrong).toEqual([]);
  });

  test('what is stored is named, and everything else was met', () => {
    const ofSpreads = ['bid', 'ask', 'bidSize', 'askSize'].map((id) => `spread-${id}`);
    const listed = ['strikes-putStrike', 'strikes-callStrike'];
    const stored = [...ofSpreads, ...listed, 'price', 'bid', 'ask', 'last', 'theoryVolatility', 'earlyExercise'];
    expect([...walked.beyond].sort()).toEqual(stored.sort());
    const never = [...walked.known].filter((id) => !walked.checked.has(id) && !walked.beyond.has(id));
    // The demo's curve and dividends are known: carry is inferred, by a fit, only of files without them.
    expect(never.sort()).toEqual(['implied-borrow', 'implied-drift', 'implied-financing', 'impliedDividend']);
    for (const [id, times] of Object.entries({
      rank: 8,
      exEvent: 20,
      earlyExercise: 50,
      theoryVolatility: 200,
      forward: 80,
      index: 80,
      rmse: 80,
      eventMove: 40,
    }))
      expect(walked.checked.get(id) ?? 0, id).toBeGreaterThan(times);
  });

  test('the Pricer, of a spot with dividends, a future and the normal model, European and American', () => {
    const shared = { side: 'call', strike: 102, days: 90, rate: 0.04, dividendYield: 0.01, multiplier: 100 } as const;
    const dividends = [
      { days: 20, amount: 1.2 },
      { days: 120, amount: 1 },
    ];
    for (const exercise of ['european', 'american'] as const)
      for (const model of ['spot', 'futures', 'normal'] as const) {
        if (model === 'normal' && exercise === 'american') continue;
        const inputs = {
          ...{ ...shared, exercise, model, underlying: 100, volatility: model === 'normal' ? 20 : 0.25, contracts: 3 },
          dividends: model === 'spot' && exercise === 'american' ? dividends : [],
        };
        const shown = pricerFigures({ inputs });
        if (!shown.ok) throw new Error(shown.message);
        const state = { inputs, own: {}, settings: { basis: 'position' as const }, shown: shown.answer };
        for (const measure of PRICER_MEASURES)
          for (const side of ['call', 'put'] as const) {
            const workings = explainPricerFigure(state, pricerFigureId(measure.id, side));
            if (!workings) throw new Error(measure.id);
            const derived = derivedValue(pricerProcedure(measure, { ...inputs, side }), workings.inputs);
            expect(derived?.value ?? null, `${exercise} ${model} ${side} ${measure.id}`).toEqual(workings.value);
          }
      }
  });

  test.each(['KELPA', 'VMQ', 'VM50'] as const)(
    '%s: quotes are what Black says of their volatilities, plus a premium',
    (symbol) => {
      const picture = pictureOf(symbol);
      let premiums = 0;
      for (const expiry of picture.expiries.slice(0, 6)) {
        for (const { side, strike } of chainOptions(expiry, 'both')) {
          const workings = workingsOf(
            picture,
            contextOf('smile'),
            figureId('midVolatility', expiry.date, strike, side),
          );
          if (!workings) throw new Error(`${strike} ${side}`);
          const { value, inputs } = workings;
          if (value === null) continue;
          const of = (symbol: string) => inputs.find((i) => i.symbol === symbol)?.value ?? NaN;
          const premium = inputs.some((i) => i.symbol === 'E') ? of('E') : 0;
          if (premium > 0) premiums++;
          const black = black76Price({
            side,
            forward: of('F'),
            strike: of('K'),
            timeToExpiry: of('T'),
            discountFactor: of('D'),
            volatility: value,
          });
          expect(Math.abs(black + premium - of('V')), `${expiry.date} ${strike} ${side}`).toBeLessThan(1e-9 * strike);
        }
      }
      expect(premiums > 0).toBe(picture.underlying.exercise === 'american');
    },
  );
});
