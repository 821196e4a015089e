import { describe, expect, test } from 'vitest';
import { black76Price } from '@umwelt/core/pricing';
import { smileVolatility } from '@umwelt/core/surface';
import { STRUCTURE_NAMES } from '@umwelt/core/structure';
import type { Picture } from '../src/lib/api/picture.ts';
import type { TradedLegText } from '../src/lib/api/traded.ts';
import { expirySmile, legTheory, listedValues, spreadParts } from '../src/lib/theory/index.ts';
import { expectedParts, type FiguredStructure } from '../src/lib/views/structure/figured-structure.ts';
import { FIGURES } from '../src/lib/views/structure/structure-figure-definitions.ts';
import { structureReading } from '../src/lib/views/structure/structure-reading.ts';
import { built } from '../src/lib/views/structure/structure-edit.ts';
import { sceneSums, structureScene } from '../src/lib/views/structure/structure-scene.ts';
import { inForceOf, storedPicture, SYMBOLS } from './demo-pictures.ts';

/* Figures of a structure beside arithmetic of their own. */

function seen(picture: Picture, legs: readonly TradedLegText[], held = 0): FiguredStructure {
  const parts = spreadParts(picture, [legs]);
  const values = parts.map(({ expiry, options }) => listedValues(expiry, options, inForceOf(picture, 'smile')));
  const scene = structureScene(picture, legs, {
    ...{ held, paid: [], take: 'theory' },
    values: legTheory(legs, parts, values),
  });
  const { multiplier } = picture.underlying;
  return {
    ...{ symbol: picture.underlying.symbol, asOf: picture.asOf, scene, sums: sceneSums(scene, multiplier), multiplier },
    ...{ front: scene.on(Infinity), at: picture.price, riskReversal: null },
  };
}
const figure = (id: string, s: FiguredStructure) => {
  const found = FIGURES.find((f) => f.id === id);
  if (!found) throw new Error(id);
  return { value: found.value(s) ?? NaN, label: typeof found.label === 'string' ? found.label : found.label(s), found };
};
const kelpa = storedPicture('KELPA');
const vm50 = storedPicture('VM50');

describe('a share receives its dividends', () => {
  const [date] = ['2031-07-18'];
  const leg = { expiry: date, strike: 95, side: 'call', ratio: -1 } as const;
  const covered = seen(kelpa, [leg], 1);
  const { front } = covered.scene;

  test('known of KELPA by July: 135.00, named, in break-even and in expected profit; twice as many owed pay it and the borrow', () => {
    // The demo's: 1.35 in May (its calendar), none after it before 18 July.
    expect(kelpa.dividends.filter((d) => d.time < (front?.years ?? 0)).map((d) => d.amount)).toEqual([
      expect.closeTo(1.35, 6),
    ]);
    const { value, label, found } = figure('income', covered);
    expect([label, value.toFixed(2)]).toEqual(['dividends by 18 Jul', '135.00']);
    expect(found.inputs(covered).find((i) => i.symbol === 'A1')?.label).toMatch(/^dividend of \d+ May$/);
    expect(covered.front?.breakEvens).toHaveLength(1);
    const premium = -(covered.scene.valued?.[0].price ?? NaN);
    expect(covered.front?.breakEvens[0]).toBeCloseTo(kelpa.price + premium - 1.35, 9);
    expect((covered.front?.maxProfit ?? NaN) * 100).toBeCloseTo(100 * (95 - kelpa.price - premium + 1.35), 7);
    const owed = seen(kelpa, [], -2);
    expect(figure('income', owed).value).toBeNaN();
    const short = seen(kelpa, [{ ...leg, ratio: 1 }], -2);
    const borrow = short.scene.heldLeg?.income?.borrow ?? NaN;
    expect(figure('income', short).value).toBeCloseTo(-200 * (1.35 + borrow * (front?.years ?? NaN)), 6);
  });

  test('before the ex-date a day shows none of it, from then on all of it', () => {
    const [{ time }] = kelpa.dividends;
    const alone = seen(kelpa, [leg]);
    const of = (days: number) => {
      const at = (s: FiguredStructure) => s.scene.on(days)?.profit(95) ?? NaN;
      return at(covered) - at(alone) - (95 - kelpa.price);
    };
    expect(of(365 * time - 0.01)).toBeCloseTo(0, 9);
    expect(of(365 * time + 0.01)).toBeCloseTo(1.35, 9);
  });

  test('a call that is owed deep in the money may be assigned before the ex-date: the day and the cost are told', () => {
    const expiry = kelpa.expiries.find((e) => e.date === date);
    if (!expiry) throw new Error(date);
    const [deep] = expiry.strikes;
    const s = seen(kelpa, [{ ...leg, strike: deep, ratio: -3 }]);
    const { assignment } = s.scene.legs[0];
    const [{ time, amount }] = kelpa.dividends;
    expect(assignment?.dividend).toBe(amount);
    expect(Date.parse(assignment?.exDate ?? '') / 864e5).toBeCloseTo(Date.parse(kelpa.asOf) / 864e5 + 365 * time, 0);
    // So deep, holding is worth the forward less the strike, discounted: the dividend less interest is lost by it.
    const interest = deep * (1 - Math.exp(-expiry.impliedRate * (expiry.years - time)));
    expect(assignment?.cost ?? NaN).toBeGreaterThan(0);
    expect(Math.abs((assignment?.cost ?? NaN) - (amount - interest))).toBeLessThan(0.25);
    expect(seen(kelpa, [{ ...leg, strike: deep, ratio: 3 }]).scene.legs[0].assignment).toBeUndefined();
    const far = expiry.strikes[expiry.strikes.length - 1];
    expect(seen(kelpa, [{ ...leg, strike: far }]).scene.legs[0].assignment).toBeUndefined();
    const scale = { underlyingTick: 0.05 } as never;
    const said = structureReading({ figured: s, currency: 'XTS', events: [], decimals: 2, scale });
    expect(JSON.stringify(said)).toMatch(/may be assigned before \d+ May, when 1\.35\d? goes ex/);
  });

  test('nothing of the kind on an index or a future', () => {
    for (const symbol of ['VM50', 'VMQ', 'MERRO'] as const) {
      const picture = storedPicture(symbol);
      const [expiry] = picture.expiries;
      const s = seen(
        picture,
        [{ expiry: expiry.date, strike: expiry.strikes[expiry.strikes.length >> 1], side: 'call', ratio: 1 }],
        1,
      );
      expect(figure('income', s).value).toBe(0);
    }
  });
});

describe('expected profit and theory over cost', () => {
  test.each([...SYMBOLS])('%s: interest, carry and early exercise lie between them, to the cent', (symbol) => {
    const picture = storedPicture(symbol);
    for (const expiry of picture.expiries.filter((e) => e.smile && !e.outlier).slice(0, 6)) {
      const smile = expirySmile(expiry);
      const at = expiry.strikes.findIndex((k) => k >= expiry.forward);
      if (!smile || at < 1) continue;
      const legs: TradedLegText[] = [
        { expiry: expiry.date, strike: expiry.strikes[at], side: 'call', ratio: -2 },
        { expiry: expiry.date, strike: expiry.strikes[at - 1], side: 'put', ratio: 1 },
      ];
      const s = seen(picture, legs, 1);
      const parts = expectedParts(s);
      const whole = figure('expected', s).value;
      expect(parts.reduce((sum, p) => sum + (p.value ?? NaN), 0)).toBeCloseTo(whole, 6);
      // By itself: Black's value on the day of the expiry, the forward, what is paid until then.
      const { forward, years } = expiry;
      const undiscounted = legs.reduce((sum, { side, strike, ratio }) => {
        const volatility = smileVolatility(smile, Math.log(strike / forward));
        return (
          sum + ratio * black76Price({ side, strike, forward, timeToExpiry: years, volatility, discountFactor: 1 })
        );
      }, 0);
      const paid = picture.dividends.reduce((sum, d) => sum + (d.time <= years ? d.amount : 0), 0);
      const isPaying = ['share', 'fund'].includes(picture.underlying.kind);
      const own = undiscounted + forward + (isPaying ? paid : 0) - (s.sums.cost ?? NaN) / s.multiplier;
      expect(Math.abs(whole - own * s.multiplier)).toBeLessThan(0.01);
    }
  });
});

describe('cost of width', () => {
  const [, expiry] = vm50.expiries.filter((e) => e.isMonthly);
  const at = expiry.strikes.findIndex((k) => k >= expiry.forward);
  const legsOf = (places: readonly (readonly [number, number, 'call' | 'put'])[]) =>
    places.map(([step, ratio, side]) => ({ expiry: expiry.date, strike: expiry.strikes[at + step], side, ratio }));
  const apart = (a: number, b: number) => Math.abs(expiry.strikes[at + a] - expiry.strikes[at + b]);
  const widthOf = (s: FiguredStructure) => Math.abs(s.sums.cost ?? NaN) / (figure('costToWidth', s).value || NaN);

  test.each([
    [
      'vertical',
      [
        [0, 1, 'call'],
        [3, -1, 'call'],
      ],
      apart(0, 3),
    ],
    [
      'condor',
      [
        [-6, 1, 'call'],
        [-4, -1, 'call'],
        [4, -1, 'call'],
        [6, 1, 'call'],
      ],
      apart(4, 6),
    ],
    [
      'ten iron condors',
      [
        [-6, 10, 'put'],
        [-4, -10, 'put'],
        [4, -10, 'call'],
        [6, 10, 'call'],
      ],
      10 * apart(4, 6),
    ],
    [
      'butterfly',
      [
        [-3, 1, 'put'],
        [0, -2, 'put'],
        [3, 1, 'put'],
      ],
      apart(0, 3),
    ],
  ] as const)('%s: of its wing', (_, places, wing) => {
    expect(widthOf(seen(vm50, legsOf(places)))).toBeCloseTo(wing * vm50.underlying.multiplier, 6);
  });

  test.each([
    [
      'collar',
      [
        [-4, 1, 'put'],
        [4, -1, 'call'],
      ],
      1,
    ],
    [
      'straddle',
      [
        [0, 1, 'put'],
        [0, 1, 'call'],
      ],
      0,
    ],
    [
      'box',
      [
        [0, 1, 'call'],
        [0, -1, 'put'],
        [4, -1, 'call'],
        [4, 1, 'put'],
      ],
      0,
    ],
  ] as const)('%s: none', (_, places, held) => {
    expect(figure('costToWidth', seen(vm50, legsOf(places), held)).value).toBeNaN();
  });
});

test('begun by its name, a structure of one expiry has wings that are as wide', () => {
  for (const symbol of SYMBOLS) {
    const picture = storedPicture(symbol);
    for (const expiry of picture.expiries)
      for (const name of STRUCTURE_NAMES) {
        const made = built(name, 'call', expiry, picture.expiries);
        const strikes = [...new Set(made?.legs.map((l) => l.strike))].sort((a, b) => a - b);
        const dates = new Set(made?.legs.map((l) => l.expiry));
        if (!made || name.startsWith('broken') || strikes.length < 3 || dates.size > 1) continue;
        const wings = [strikes[1] - strikes[0], strikes[strikes.length - 1] - strikes[strikes.length - 2]];
        expect(wings[1], `${symbol} ${expiry.date} ${name} ${strikes.join(' ')}`).toBeCloseTo(wings[0], 6);
      }
  }
});

test('on the last day what is left until the close is said, not a day; a long diagonal says what it can lose beside its debit', () => {
  const today = vm50.expiries.find((e) => e.days < 1);
  const reading = (s: FiguredStructure) =>
    structureReading({ figured: s, currency: 'XTS', events: [], decimals: 2, scale: { underlyingTick: 0.5 } as never })
      .map((sentence) => sentence.map((part) => (typeof part === 'string' ? part : part.text)).join(''))
      .join(' ');
  const soon: Picture = {
    ...vm50,
    expiries: [{ ...vm50.expiries[0], days: 0.25, years: 0.25 / 365 }, ...vm50.expiries.slice(1)],
  };
  const [expiry] = today ? [today] : soon.expiries;
  const strike = expiry.strikes[expiry.strikes.findIndex((k) => k >= vm50.price)];
  const s = seen(today ? vm50 : soon, [{ expiry: expiry.date, strike, side: 'call', ratio: 1 }]);
  const left = Math.max(vm50.price - strike, 0) - (s.scene.legs[0].value?.price ?? NaN);
  expect(figure('theta', s).label).toBe('until the close');
  expect(figure('theta', s).value).toBeCloseTo(left * s.multiplier, 6);
  expect(reading(s)).toContain('Until the close it costs');
  // Far below, a European put is worth less than exercise: more is lost than the strikes lie apart and the debit.
  const [near, far] = [vm50.expiries.filter((e) => e.isMonthly)[0], vm50.expiries[vm50.expiries.length - 1]];
  const strikes = near.strikes.filter((k) => far.strikes.includes(k));
  const diagonal = seen(vm50, [
    { expiry: far.date, strike: strikes[0], side: 'put', ratio: 1 },
    { expiry: near.date, strike: strikes[1], side: 'put', ratio: -1 },
  ]);
  const [lost, cost] = [figure('lost', diagonal).value, diagonal.sums.cost ?? NaN];
  expect(lost).toBeGreaterThan(cost + (strikes[1] - strikes[0]) * diagonal.multiplier);
  expect(reading(diagonal)).toMatch(
    /Most that can be lost by the first expiry is [\d\u202f.]+, more than the debit of [\d\u202f.]+\./,
  );
});
