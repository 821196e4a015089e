import { black76Price } from '@umwelt/core/pricing';
import { explainMarketGap, GAP_CAUSES } from '@umwelt/core/whatif';
import { normalCdf } from '@umwelt/core/math';
import { describe, expect, test } from 'vitest';
import { smileVolatility } from '@umwelt/core/surface';

import {
  chainRows,
  distantOptions,
  expirySmile,
  laterInputs,
  listedValues,
  marketInputs,
  ON_SMILE,
  pricerFigures,
  sameDistance,
  theoryVolatility,
  toldDistance,
  volatilityInForce,
  withValues,
} from '../src/lib/theory/index.ts';
import { probabilityText } from '../src/lib/ui/format.ts';
import { chanceLaw, markedChance } from '../src/lib/views/chain/chance-law.ts';
import { gapInput } from '../src/lib/views/pricer/gap-input.ts';
import {
  figureScale,
  EXPIRY_MEASURES,
  explainPricerFigure,
  figureId,
  LEVEL_MEASURES,
  PRICER_MEASURES,
  pricerFigureId,
  QUOTE_MEASURES,
  workingsOf,
} from '../src/lib/measures/index.ts';
import { chainReading } from '../src/lib/views/chain/chain-reading.ts';
import { skewReading } from '../src/lib/views/skew/skew-reading.ts';
import { termReading } from '../src/lib/views/term/term-reading.ts';
import { pricerReading } from '../src/lib/views/pricer/pricer-reading.ts';
import type { Sentence } from '../src/lib/shell/reading/sentence.ts';
import { asOfContext, VOLATILITY_SOURCES } from '../src/lib/api/as-of-context.ts';
import type { ExpiryPicture } from '../src/lib/api/picture.ts';
import { chainOf } from './chain-of.ts';
import { inForceOf, storedPicture } from './demo-pictures.ts';

/* What the views show of one stored chain: every number must be consistent with the others and explain itself. */

const picture = storedPicture('FJRD');
const focus = picture.expiries[3];
const context = asOfContext.parse({});

const TYPED = 0.31;
const inForce = (volatilitySource: (typeof VOLATILITY_SOURCES)[number]) =>
  volatilityInForce(picture, { volatilitySource, typedVolatility: TYPED });

test('call and put of every strike obey parity in value, delta and probability under the fitted smile', () => {
  for (const expiry of picture.expiries) {
    const rows = chainOf(expiry, { inForce: inForce('smile'), sides: 'both' });
    expect(rows).toHaveLength(2 * expiry.strikes.length);
    for (let i = 0; i < rows.length; i += 2) {
      const [call, put] = [rows[i], rows[i + 1]];
      const gap = expiry.discountFactor * (expiry.forward - call.strike);
      expect((call.theory ?? NaN) - (put.theory ?? NaN)).toBeCloseTo(gap, 8);
      const carried = (expiry.discountFactor * expiry.forward) / picture.price;
      expect((call.delta ?? NaN) - (put.delta ?? NaN)).toBeCloseTo(carried, 10);
      expect((call.probabilityItm ?? NaN) + (put.probabilityItm ?? NaN)).toBeCloseTo(1, 10);
      expect((call.forwardDelta ?? NaN) - (put.forwardDelta ?? NaN)).toBeCloseTo(1, 10);
    }
  }
});

test('probability in the money carries the slope of the smile, and is what a narrow spread of theory costs', () => {
  let differing = 0;
  for (const expiry of picture.expiries) {
    if (!expiry.smile || expiry.smile.model === 'flat') continue;
    const smile = expirySmile(expiry);
    if (!smile) throw new Error('no smile');
    const undiscounted = (strike: number) => {
      const volatility = smileVolatility(smile, Math.log(strike / expiry.forward));
      const { forward, years: timeToExpiry } = expiry;
      return black76Price({ side: 'call', forward, strike, timeToExpiry, volatility, discountFactor: 1 });
    };
    for (const row of chainOf(expiry, { inForce: inForce('smile'), sides: 'both' })) {
      if (row.side === 'put') continue;
      // -dC/dK by Breeden and Litzenberger (1978), from prices alone.
      const step = 1e-4 * row.strike;
      const spread = (undiscounted(row.strike - step) - undiscounted(row.strike + step)) / (2 * step);
      expect(Math.abs((row.probabilityItm ?? NaN) - spread), `${expiry.date} ${row.strike}`).toBeLessThan(2e-6);
      if (Math.abs((row.probabilityItmConstantVolatility ?? NaN) - spread) > 0.01) differing++;
    }
    for (const source of ['atm', 'typed'] as const) {
      for (const row of chainOf(expiry, { inForce: inForce(source), sides: 'out' }))
        expect(row.probabilityItm).toBe(row.probabilityItmConstantVolatility);
    }
  }
  // By more than a hundredth at many strikes: leaving the slope out would show.
  expect(differing).toBeGreaterThan(20);
});

test('the 30-day index follows from what its Workings hold, as the strip of quotes and as the whole smile', () => {
  for (const id of ['index30', 'index30Completed']) {
    const workings = workingsOf(picture, context, figureId(id));
    if (!workings) throw new Error(id);
    const value = (symbol: string) => {
      const input = workings.inputs.find((i) => i.symbol === symbol);
      return Number(input?.value);
    };
    const [a, b] = [value('σ₁') ** 2 * value('T₁'), value('σ₂') ** 2 * value('T₂')];
    const total = a + ((b - a) * (30 / 365 - value('T₁'))) / (value('T₂') - value('T₁'));
    const shown = id === 'index30' ? picture.index30 : picture.index30Completed;
    expect(Math.sqrt((total * 365) / 30) / (shown ?? NaN), id).toBeCloseTo(1, 9);
  }
  // Strikes end early here: the strip holds less than the smile.
  expect((picture.index30Completed ?? 0) - (picture.index30 ?? 0)).toBeGreaterThan(-1e-3);
});

test('dear and cheap are told by the side of the market on which theory lies', () => {
  const rows = picture.expiries.flatMap((e) => chainOf(e, { inForce: inForce('atm'), sides: 'out' }));
  const judged = rows.filter((r) => r.standing !== null);
  expect(judged.length).toBeGreaterThan(100);
  for (const { standing, theory, bid, ask, gap } of judged) {
    const [value, low, high] = [theory ?? NaN, bid ?? NaN, ask ?? NaN];
    expect(standing).toBe(low > value ? 'dear' : high < value ? 'cheap' : 'inside');
    expect(gap).toBeCloseTo(low > value ? low - value : high < value ? high - value : 0, 12);
  }
  // One volatility for all strikes cannot fit a smile from both sides.
  expect(new Set(judged.map((r) => r.standing))).toContain('dear');
});

test('one volatility for all is that of the index, the past or the typed one at every strike, and Workings says whose', () => {
  const expiry = { ...focus, realized: { volatility: 0.17, sessions: 25, sum: 0, squares: 0 } };
  const past = { ...picture, expiries: [expiry] };
  for (const [volatilitySource, level, origin] of [
    ['index', picture.index30 ?? NaN, 'model-free'],
    ['realized', 0.17, 'last 25 sessions'],
    ['typed', TYPED, 'typed'],
  ] as const) {
    const rows = chainOf(expiry, { inForce: inForce(volatilitySource), sides: 'both' });
    for (const row of rows) {
      const { forward, discountFactor, years: timeToExpiry } = expiry;
      const black = black76Price({ ...row, forward, discountFactor, timeToExpiry, volatility: level });
      expect(row.theoryVolatility).toBe(level);
      expect(row.theory).toBeCloseTo(black, 9);
      const workings = workingsOf(
        past,
        { ...context, volatilitySource, typedVolatility: TYPED },
        figureId('theory', expiry.date, row.strike, row.side),
      );
      expect(workings?.inputs.find((i) => i.symbol === 'σ')).toMatchObject({ value: level });
      expect(workings?.inputs.find((i) => i.symbol === 'σ')?.source).toContain(origin);
    }
  }
  // Without the figure there is no theory, and never another one in its place.
  const none = { ...expiry, realized: null };
  expect(theoryVolatility(none, { side: 'put', strike: none.strikes[0] }, inForce('realized'))).toBeNull();
  const { theory, standing, delta } = chainOf(none, { inForce: inForce('realized'), sides: 'out' })[0];
  expect([theory, standing, delta]).toEqual([null, null, null]);
});

test('every entry of the catalogue explains itself wherever it is shown, with the value that is shown', () => {
  const rows = chainOf(focus, { inForce: inForce('smile'), sides: 'both' });
  const subjects = [
    ...LEVEL_MEASURES.map((m) => ({ m, id: figureId(m.id) })),
    ...EXPIRY_MEASURES.map((m) => ({ m, id: figureId(m.id, focus.date) })),
    ...rows.flatMap((r) => QUOTE_MEASURES.map((m) => ({ m, id: figureId(m.id, focus.date, r.strike, r.side) }))),
  ];
  for (const { m, id } of subjects) {
    const workings = workingsOf(picture, context, id);
    expect(workings, id).toBeDefined();
    expect(workings).toMatchObject({ id, label: m.label, unit: m.unit });
    for (const text of [workings?.definition, workings?.source]) expect(text?.length, id).toBeGreaterThan(3);
    expect(workings?.formula, id).not.toBe('');
    for (const input of workings?.inputs ?? []) expect(input.source.length, `${id} ${input.label}`).toBeGreaterThan(1);
  }
  for (const row of rows) {
    const theory = workingsOf(picture, context, figureId('theory', focus.date, row.strike, row.side));
    expect(theory?.value).toBe(row.theory);
    const odds = workingsOf(
      picture,
      context,
      figureId('probabilityItmConstantVolatility', focus.date, row.strike, row.side),
    );
    const of = (symbol: string) => odds?.inputs.find((i) => i.symbol === symbol)?.value ?? NaN;
    const on = (symbol: string) => odds?.intermediate.find((i) => i.symbol === symbol)?.value ?? NaN;
    expect(on('d₁') - on('d₂')).toBeCloseTo(of('σ') * Math.sqrt(of('T')), 10);
  }
  expect(workingsOf(picture, context, 'atm~2001-01-01')).toBeUndefined();
  expect(workingsOf(picture, context, 'nothing')).toBeUndefined();
});

describe('the Reading', () => {
  const words = (sentences: Sentence[]) =>
    sentences.map((s) => s.map((part) => (typeof part === 'string' ? part : part.text)).join('')).join('\n');

  test('links every number to its Workings, and says no number that is missing', () => {
    const all = [
      skewReading(picture, focus, context),
      termReading(picture, context),
      chainReading(picture, focus, context, chainOf(focus, { inForce: inForce('smile'), sides: 'out' })),
    ];
    for (const sentences of all) {
      expect(sentences.length).toBeGreaterThan(1);
      expect(words(sentences)).not.toMatch(/NaN|undefined|null|—/);
      for (const part of sentences.flat()) {
        if (typeof part === 'object' && 'figure' in part) {
          expect(workingsOf(picture, context, part.figure)?.value, part.figure).not.toBeNull();
        }
      }
    }
  });

  test('tells the same distance with the figures of the table, and explains no difference that is none', () => {
    const rows = sameDistance(focus, 'percent');
    const valued = withValues(rows, listedValues(focus, distantOptions(rows), ON_SMILE));
    const [row] = toldDistance(focus);
    const told = valued.find((r) => r.distance === row.distance);
    const text = words(skewReading(picture, focus, context, { told }));
    const [put, call] = [told?.put?.price ?? NaN, told?.call?.price ?? NaN];
    expect(text).toContain(`is worth ${(put / call).toFixed(2)} times the call ${row.distance} % above`);
    expect(1 - (told?.put?.strike ?? NaN) / focus.forward).toBeCloseTo(
      (told?.call?.strike ?? NaN) / focus.forward - 1,
      12,
    );
    const chain = chainOf(focus, { inForce: inForce('smile'), sides: 'out' });
    const reading = (forward: number) =>
      words(
        chainReading(
          picture,
          { ...focus, forward, carryForward: focus.forward, forwardSource: 'parity' },
          context,
          chain,
        ),
      );
    expect(reading(focus.forward)).toContain('as spot and curve give it');
    expect(reading(focus.forward + 0.5)).toContain('+0.50 against spot and curve');
    // A level of a few quotes is the same both ways: nothing is told of its sides.
    const level = { ...(focus.smile as object), model: 'flat', parameters: { volatility: 0.2 } };
    expect(sameDistance({ ...focus, smile: level as ExpiryPicture['smile'] }, 'percent')).toEqual([]);
  });

  test('tells early exercise of a short position once, as what the buyer owns', () => {
    const inputs = {
      ...marketInputs(picture, focus, { side: 'put', inForce: inForce('smile') }),
      exercise: 'american' as const,
    };
    const strike = Math.max(...focus.strikes);
    const result = pricerFigures({ inputs: { ...inputs, strike } });
    if (!result.ok) throw new Error(result.message);
    const read = (factor: number) =>
      words(
        pricerReading({
          inputs,
          shown: result.answer,
          factor,
          scale: figureScale(picture, factor),
          pointWords: 'points',
        }),
      );
    const premium = result.answer.put.early.premium.toFixed(3);
    expect(read(1)).toContain(`Of that the right to exercise early is ${premium}`);
    expect(read(-1)).toContain(`The buyer's right to exercise early is of that ${premium}`);
    const measure = PRICER_MEASURES.find((m) => m.id === 'earlyPremium');
    expect([-1, 0, 1].map((v) => measure?.meaning(v, 'point'))).toEqual([
      "owed for the buyer's right to exercise early",
      'the right to exercise early adds nothing',
      'of the value, for the right to exercise early',
    ]);
  });

  test('names the shape by the rules: a side beyond a twentieth of the level, else a smile from 0.2 points on', () => {
    const read = (riskReversal25: number, butterfly25: number) =>
      words(skewReading(picture, { ...focus, atm: 0.2, riskReversal25, butterfly25 }, context));
    expect(read(-0.0101, 0.01)).toContain('is skewed to the downside');
    expect(read(0.0101, 0)).toContain('is skewed to the upside');
    expect(read(-0.0099, 0.0021)).toContain('is a symmetric smile');
    expect(read(0.0099, 0.0019)).toContain('is flat');
  });
});

describe('the Pricer on this market', () => {
  test("starts at the chain's theory for every quote, under every volatility source", () => {
    // Nothing is lent here, and no bars are stored: these have no volatility for any strike.
    const without = ['borrowed', 'realized'];
    for (const volatilitySource of VOLATILITY_SOURCES) {
      for (const row of chainOf(focus, { inForce: inForce(volatilitySource), sides: 'both' })) {
        const isQuoted = volatilitySource !== 'own' || row.midVolatility !== null;
        expect(row.theory !== null, `${volatilitySource} ${row.strike} ${row.side}`).toBe(
          isQuoted && !without.includes(volatilitySource),
        );
        if (row.theory === null) continue;
        const inputs = marketInputs(picture, focus, {
          side: row.side,
          strike: row.strike,
          inForce: inForce(volatilitySource),
        });
        const result = pricerFigures({ inputs });
        if (!result.ok) throw new Error(result.message);
        const { greeks } = result.answer[row.side];
        expect(greeks.price).toBeCloseTo(row.theory, 9);
        expect(greeks.vega).toBeCloseTo(row.vega ?? NaN, 9);
        expect(greeks.theta).toBeCloseTo(row.theta ?? NaN, 9);
      }
    }
  });

  test('leads from theory to the mid of every quote that has one, and leaves nothing over where a volatility fits', () => {
    let checked = 0;
    for (const row of chainOf(focus, { inForce: inForce('atm'), sides: 'both' })) {
      const inputs = marketInputs(picture, focus, { side: row.side, strike: row.strike, inForce: inForce('atm') });
      const request = gapInput(picture, focus, inputs, 0.01);
      if (row.mid === null) expect(request).toBeUndefined();
      if (!request) continue;
      const gap = explainMarketGap(request);
      const sum = GAP_CAUSES.reduce((total, cause) => total + gap.parts[cause], gap.theory) + gap.rest;
      expect(sum).toBeCloseTo(row.mid ?? NaN, 9);
      if (row.verdict === null && row.midVolatility !== null && gap.impliedVolatility.ok) {
        expect(gap.impliedVolatility.volatility).toBeCloseTo(row.midVolatility, 6);
        expect(Math.abs(gap.rest)).toBeLessThan(1e-9);
        checked++;
      }
    }
    expect(checked).toBeGreaterThan(20);
    const unlisted = {
      ...marketInputs(picture, focus, { inForce: inForce('smile') }),
      strike: focus.strikes[0] + 0.001,
    };
    expect(gapInput(picture, focus, unlisted, 0)).toBeUndefined();
  });

  test('takes a later expiry for the decay, and none after the last', () => {
    const inputs = marketInputs(picture, focus, { inForce: inForce('smile') });
    const later = laterInputs(picture, focus, { market: inputs, own: {}, inForce: inForce('smile') });
    expect(later?.days).toBeGreaterThan(focus.days);
    const last = picture.expiries[picture.expiries.length - 1];
    const market = marketInputs(picture, last, { inForce: inForce('smile') });
    expect(laterInputs(picture, last, { market, own: {}, inForce: inForce('smile') })).toBeUndefined();
  });

  test('explains each of its figures, and its Reading links to them', () => {
    const inputs = { ...marketInputs(picture, focus, { inForce: inForce('smile') }), exercise: 'american' as const };
    const result = pricerFigures({ inputs });
    if (!result.ok) throw new Error(result.message);
    const state = {
      inputs,
      own: { exercise: 'american' as const },
      settings: { basis: 'contract' as const },
      view: { focus },
      shown: result.answer,
    };
    for (const measure of PRICER_MEASURES) {
      const id = pricerFigureId(measure.id, 'put');
      const workings = explainPricerFigure(state, id);
      const value = measure.value(result.answer.put);
      const factor = measure.isScaled ? inputs.multiplier : 1;
      expect(workings?.value ?? null, id).toBe(value === undefined ? null : value * factor);
      expect(workings?.note).toContain('spectral-collocation');
      expect(measure.meaning(1, 'point')).not.toBe('');
    }
    const sentences = pricerReading({
      inputs,
      shown: result.answer,
      factor: 1,
      scale: figureScale(picture),
      pointWords: 'points',
    });
    for (const part of sentences.flat()) {
      if (typeof part === 'object' && 'figure' in part) expect(explainPricerFigure(state, part.figure)).toBeDefined();
    }
    expect(explainPricerFigure(state, 'pricer~nothing~call')).toBeUndefined();
  });
});

test('a chance in the money says its law and what the other one says; the Pricer’s is the one, Chain’s under the smile the other', () => {
  const picture = storedPicture('VM50');
  const expiry = picture.expiries.find((e) => e.isMonthly && e.days > 20);
  if (!expiry) throw new Error('no monthly');
  const at = expiry.strikes.findIndex((k) => k >= 0.97 * expiry.forward);
  const option = { side: 'put', strike: expiry.strikes[at] } as const;
  const percent = (p: number) => probabilityText(p);
  const rowBy = (source: 'smile' | 'atm') => {
    const inForce = inForceOf(picture, source);
    const [row] = chainRows(expiry, [option], listedValues(expiry, [option], inForce));
    return { row, inForce };
  };
  const bySmile = rowBy('smile');
  const marked = markedChance(percent(bySmile.row.probabilityItm ?? NaN), bySmile.inForce);
  expect(marked).toMatch(/ %? ?~$/);
  const said = chanceLaw(bySmile.row, expiry, bySmile.inForce);
  expect(said).toContain('its slope with it; one volatility for all strikes says');
  // The Pricer's, at the volatility of the strike, by itself: N(d2).
  const volatility = bySmile.row.theoryVolatility ?? NaN;
  const deviation = volatility * Math.sqrt(expiry.years);
  const one = normalCdf(deviation / 2 - Math.log(expiry.forward / option.strike) / deviation);
  expect(said).toContain(percent(one));
  expect(Math.abs(one - (bySmile.row.probabilityItm ?? NaN))).toBeGreaterThan(0.002);
  const byOne = rowBy('atm');
  expect(markedChance('20 %', byOne.inForce)).toBe('20 %');
  expect(chanceLaw(byOne.row, expiry, byOne.inForce)).toBe(
    `By one volatility for all strikes; the fitted smile with its slope says ${percent(bySmile.row.probabilityItm ?? NaN)}`,
  );
});
