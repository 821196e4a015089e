import { forwardDelta, black76Price } from '@umwelt/core/pricing';
import { smileVolatility } from '@umwelt/core/surface';
import fc from 'fast-check';
import type { Data } from 'plotly.js';
import { describe, expect, test } from 'vitest';
import { chartTable } from '../src/lib/ui/chart-table.ts';
import { strokesShape } from '../src/lib/ui/strokes.ts';
import { PALETTES } from '../src/lib/ui/palette.ts';
import { skewChart } from '../src/lib/views/skew/skew-chart.ts';
import {
  distantOptions,
  expirySmile,
  listedValues,
  ON_SMILE,
  sameDistance,
  SURFACE_VALUES,
  surfaceGreeks,
  surfaceGrid,
  type SurfaceValue,
  withValues,
} from '../src/lib/theory/index.ts';
import { contourOf, project, projectGrid } from '../src/lib/views/skew/project-surface.ts';
import { reasonWords } from '../src/lib/market/index.ts';
import { SKEW_AXES } from '../src/lib/views/skew/parameters.ts';
import type { ExpiryPicture } from '../src/lib/api/picture.ts';
import { storedPicture } from './demo-pictures.ts';

/* What charts and small tables make of one stored chain, number by number. */

const picture = storedPicture('FJRD');
const focus = picture.expiries[3];
const palette = PALETTES.day;
const [width, height] = [900, 560];

interface Trace {
  name?: string;
  mode?: string;
  x: (number | null)[];
  y: (number | null)[];
  text?: string[];
}
const tracesOf = (data: Data[]) => data as unknown as Trace[];
const named = (data: Data[], name: string) => {
  const trace = tracesOf(data).find((t) => t.name === name);
  if (!trace) throw new Error(`no line ${name}`);
  return trace;
};
const volatilityOf = (expiry: ExpiryPicture, strike: number) => {
  const smile = expirySmile(expiry);
  if (!smile) throw new Error('no smile');
  return smileVolatility(smile, Math.log(strike / expiry.forward));
};

describe('Skew', () => {
  const draw = (axis: (typeof SKEW_AXES)[number]) =>
    skewChart(picture, { shown: picture.expiries, focus, axis, palette, width, height });

  test('keeps the order of strikes on every axis, and the forward where that axis has its middle', () => {
    const middles = { strike: focus.forward, distance: 0, moneyness: 0, deviations: 0, delta: 50 };
    for (const axis of SKEW_AXES) {
      const { data, layout } = draw(axis);
      for (const trace of tracesOf(data).filter((t) => t.mode === 'lines')) {
        const xs = trace.x.map((x) => x ?? NaN);
        expect(xs.length).toBe(91);
        xs.slice(1).forEach((x, i) => expect(x, `${axis} ${trace.name}`).toBeGreaterThan(xs[i]));
      }
      const [line] = layout.shapes ?? [];
      // At the forward call and put differ by half the deviation: delta is a little off its middle.
      expect(Math.abs(Number(line.x0) - middles[axis]), axis).toBeLessThan(axis === 'delta' ? 5 : 1e-9);
    }
  });

  test('draws each whisker from bid to offer around its mid, and below it the same less the fit', () => {
    const { data, strokes = [] } = draw('strike');
    const [whiskers, below, needles] = ['bid to offer', 'bid to offer minus fit', 'mid minus fit'].map((name) => {
      const found = strokes.find((s) => s.name === name);
      if (!found) throw new Error(name);
      return found;
    });
    // Each as one element: as many pieces as there are quotes.
    expect(strokesShape(whiskers).path?.match(/M/g)).toHaveLength(whiskers.x.length / 3);
    const { x, y } = named(data, 'mid');
    const mids = x.map((strike, i) => ({
      side: (strike ?? NaN) >= focus.forward ? ('call' as const) : ('put' as const),
      strike: strike ?? NaN,
      mid: y[i] ?? NaN,
    }));
    const good = focus.strikes.filter((strike, i) => {
      const { verdict, midVolatility } = focus[strike >= focus.forward ? 'call' : 'put'];
      return verdict[i] === null && midVolatility[i] !== null;
    });
    expect(mids.map((m) => m.strike)).toEqual(good);
    expect(whiskers.x).toHaveLength(3 * good.length);
    for (const [n, { side, strike, mid }] of mids.entries()) {
      const i = focus.strikes.indexOf(strike);
      const [low, high] = [focus[side].bidVolatility[i] ?? focus[side].midVolatility[i], focus[side].askVolatility[i]];
      expect(whiskers.x.slice(3 * n, 3 * n + 3)).toEqual([strike, strike, null]);
      expect(whiskers.y[3 * n]).toBeCloseTo(100 * (low ?? NaN), 12);
      expect(whiskers.y[3 * n + 1]).toBeCloseTo(100 * (high ?? NaN), 12);
      expect(mid).toBeGreaterThanOrEqual(whiskers.y[3 * n] ?? NaN);
      expect(mid).toBeLessThanOrEqual(whiskers.y[3 * n + 1] ?? NaN);
      expect(below.y[3 * n]).toBeCloseTo(100 * ((low ?? NaN) - volatilityOf(focus, strike)), 10);
      expect(needles.y.slice(3 * n, 3 * n + 3)).toEqual([
        0,
        expect.closeTo(mid - 100 * volatilityOf(focus, strike), 10),
        null,
      ]);
    }
  });

  test('takes its data along line by line, without labels and gaps', () => {
    const { header, rows } = chartTable(draw('strike'));
    expect(header).toEqual(['line', 'x', 'y']);
    const lines = new Set(rows.map(([line]) => line));
    for (const name of ['mid', 'bid to offer', 'mid minus fit']) expect(lines, name).toContain(name);
    expect(rows.every(([, x, y]) => typeof x === 'number' && typeof y === 'number')).toBe(true);
    expect([...lines].some((line) => String(line).startsWith('line'))).toBe(false);
  });

  test('marks what is kept out at its own volatility, with the reason', () => {
    const isOut = (e: ExpiryPicture, i: number) => {
      const { verdict, midVolatility } = e[e.strikes[i] >= e.forward ? 'call' : 'put'];
      return verdict[i] !== null && midVolatility[i] !== null;
    };
    const outOf = (e: ExpiryPicture) => e.strikes.filter((_, i) => isOut(e, i));
    const spoilt = picture.expiries.filter((e) => outOf(e).length > 0);
    expect(spoilt.length).toBeGreaterThan(0);
    for (const e of spoilt) {
      const { data } = skewChart(picture, { shown: [e], focus: e, axis: 'strike', palette, width, height });
      const out = named(data, 'excluded');
      expect(out.text).toHaveLength(out.x.length);
      for (const strike of outOf(e)) {
        const side = strike >= e.forward ? 'call' : 'put';
        const why = reasonWords(e[side].verdict[e.strikes.indexOf(strike)] ?? 'crossed');
        const at = out.text?.find((text) => text.startsWith(`${strike} `));
        expect(at, `${e.date} ${strike}`).toBe(`${strike} ${side}: ${why}; click to put it back`);
      }
    }
  });
});

test('the same distance both ways is measured from the forward, in percent, strikes or delta, and priced by theory', () => {
  for (const row of sameDistance(focus, 'percent')) {
    if (row.call) expect(row.call.strike / focus.forward - 1).toBeCloseTo(row.distance / 100, 10);
    if (row.put) expect(1 - row.put.strike / focus.forward).toBeCloseTo(row.distance / 100, 10);
  }
  const above = focus.strikes.findIndex((k) => k >= focus.forward);
  for (const { distance, put, call } of sameDistance(focus, 'strikes')) {
    if (call) expect(call.strike).toBeCloseTo(focus.strikes[above + distance - 1], 8);
    if (put) expect(put.strike).toBeCloseTo(focus.strikes[above - distance], 8);
  }
  const bare = sameDistance(focus, 'delta');
  const byDelta = withValues(bare, listedValues(focus, distantOptions(bare), ON_SMILE));
  expect(byDelta.length).toBeGreaterThan(4);
  for (const { distance, put, call } of byDelta) {
    for (const option of [put, call]) {
      if (!option) continue;
      const { forward, years: timeToExpiry, discountFactor } = focus;
      const delta = forwardDelta({ ...option, forward, timeToExpiry });
      expect(Math.abs(delta)).toBeCloseTo(distance / 100, 9);
      expect(option.volatility).toBeCloseTo(volatilityOf(focus, option.strike), 12);
      expect(option.price).toBeCloseTo(black76Price({ ...option, forward, timeToExpiry, discountFactor }), 9);
    }
  }
  // A downside skew makes the put dearer the same delta away.
  const quarter = byDelta.find((r) => r.distance === 25);
  expect(quarter?.put && quarter.call && quarter.put.volatility - quarter.call.volatility).toBeGreaterThan(0);
});

describe('the surface', () => {
  const gridOf = (value: SurfaceValue) =>
    value === 'volatility' || value === 'interest'
      ? surfaceGrid(picture.expiries, value)
      : surfaceGreeks(picture.expiries, value);

  test('holds at each place what the expiry has there, and nothing beyond its quotes', () => {
    for (const value of SURFACE_VALUES) {
      const { logMoneyness, expiries, values, range, extent, beyond } = gridOf(value);
      const all = values.flat().filter((v) => !Number.isNaN(v));
      expect(all.length).toBeGreaterThan(50);
      expect(extent).toEqual([Math.min(...all), Math.max(...all)]);
      // A fiftieth at either end leaves the range, and is counted.
      expect(all.filter((v) => v < range[0] || v > range[1]).length).toBe(beyond);
      expect(Math.abs(beyond - 0.04 * all.length)).toBeLessThanOrEqual(
        2 + (value === 'interest' ? 0.04 * all.length : 0),
      );
      expiries.forEach((e, r) =>
        logMoneyness.forEach((k, c) => {
          const v = values[r][c];
          const [low, high] = e.smile?.range ?? [0, 0];
          if (value !== 'interest') expect(Number.isNaN(v), `${e.date} ${k}`).toBe(k < low || k > high);
          if (Number.isNaN(v)) return;
          if (value === 'volatility') expect(v).toBeCloseTo(volatilityOf(e, e.forward * Math.exp(k)), 12);
        }),
      );
    }
  });

  test('has Greeks that are the changes of the price by a point, a percent or a day', () => {
    const grids = Object.fromEntries(SURFACE_VALUES.map((v) => [v, gridOf(v)]));
    const { logMoneyness, expiries } = grids.vega;
    const row = expiries.length - 2;
    const e = expiries[row];
    const rate = e.impliedRate;
    const spot = picture.price;
    for (const [c, k] of logMoneyness.entries()) {
      const volatility = grids.volatility.values[row][c];
      if (Number.isNaN(volatility)) continue;
      const side = k >= 0 ? 'call' : 'put';
      const price = (o: { spot?: number; volatility?: number; time?: number; rate?: number }) => {
        const time = o.time ?? e.years;
        const interest = o.rate ?? rate;
        return black76Price({
          side,
          strike: e.forward * Math.exp(k),
          forward: (o.spot ?? spot) * Math.exp((interest - e.impliedYield) * time),
          volatility: o.volatility ?? volatility,
          timeToExpiry: time,
          discountFactor: Math.exp(-interest * time),
        });
      };
      // Central differences; what they leave out is at most a thousandth of the largest on the surface.
      const of = (value: string) => grids[value].values[row][c];
      const near = (value: string, expected: number) => {
        const size = Math.max(...grids[value].values.flat().map((v) => (Number.isNaN(v) ? 0 : Math.abs(v))));
        expect(Math.abs(of(value) - expected) / size, `${value} at ${k}`).toBeLessThan(1e-3);
      };
      const [s, f, t] = [1e-3, 1e-3 * spot, 1e-4];
      near('vega', (0.01 * (price({ volatility: volatility + s }) - price({ volatility: volatility - s }))) / (2 * s));
      near('theta', (price({ time: e.years - t }) - price({ time: e.years + t })) / (2 * t) / 365);
      near('rho', (0.01 * (price({ rate: rate + t }) - price({ rate: rate - t }))) / (2 * t));
      const gamma = (price({ spot: spot + f }) - 2 * price({}) + price({ spot: spot - f })) / f ** 2;
      near('gamma', (gamma * e.forward) / 100);
      const delta = (o: { volatility?: number; time?: number }) =>
        (price({ ...o, spot: spot + f }) - price({ ...o, spot: spot - f })) / (2 * f);
      near('vanna', (0.01 * (delta({ volatility: volatility + s }) - delta({ volatility: volatility - s }))) / (2 * s));
      near('charm', (delta({ time: e.years - t }) - delta({ time: e.years + t })) / (2 * t) / 365);
      const bend = price({ volatility: volatility + s }) - 2 * price({}) + price({ volatility: volatility - s });
      near('volga', (1e-4 * bend) / s ** 2);
    }
  });

  test('counts every open contract of the quoted width once', () => {
    const counted = picture.expiries.map((e, n) => {
      const open = (first: number) => ({ openInterest: e.strikes.map((_, i) => first + 7 * i + n) });
      return { ...e, call: { ...e.call, ...open(100) }, put: { ...e.put, ...open(1000) } };
    });
    const { logMoneyness, expiries, values } = surfaceGrid(counted, 'interest');
    const half = 0.5 * (logMoneyness[1] - logMoneyness[0]);
    expiries.forEach((e, r) => {
      const open = e.strikes.map((strike, i) => {
        const k = Math.log(strike / e.forward);
        const isOn = k >= logMoneyness[0] - half && k < (logMoneyness.at(-1) ?? 0) + half;
        return isOn ? (e[k >= 0 ? 'call' : 'put'].openInterest[i] ?? 0) : 0;
      });
      const total = (numbers: number[]) => numbers.reduce((sum, v) => sum + (Number.isNaN(v) ? 0 : v), 0);
      expect(total(values[r])).toBe(total(open));
      expect(total(open)).toBeGreaterThan(1000);
    });
  });

  test('has contours where its level passes, on the edges of a cell and nowhere else', () => {
    const at = (x: number, y: number, value: number) => ({ point: { x, y, depth: 0 }, value });
    const square = (values: number[]) => [
      at(0, 0, values[0]),
      at(1, 0, values[1]),
      at(1, 1, values[2]),
      at(0, 1, values[3]),
    ];
    expect(contourOf(square([0, 1, 1, 0]), 0.25)).toEqual([
      [
        { x: 0.25, y: 0, depth: 0 },
        { x: 0.25, y: 1, depth: 0 },
      ],
    ]);
    expect(contourOf(square([0, 1, 0, 1]), 0.5)).toHaveLength(2);
    expect(contourOf(square([0, 1, 2, 1]), 3)).toEqual([]);
    fc.assert(
      fc.property(fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 4, maxLength: 4 }), (values) => {
        for (const ends of contourOf(square(values), 0.1))
          for (const { x, y } of ends) expect([x, y].some((v) => v === 0 || v === 1)).toBe(true);
      }),
    );
  });

  test('turned once around is where it was, and from the side a higher value stands higher', () => {
    const grid = surfaceGrid(picture.expiries, 'volatility');
    const seen = { turn: 0.7, tilt: 0.4, width, height };
    const [before, after] = [projectGrid(grid, seen), projectGrid(grid, { ...seen, turn: 0.7 + 2 * Math.PI })];
    before.forEach((row, r) =>
      row.forEach((point, c) => {
        expect(point === undefined).toBe(Number.isNaN(grid.values[r][c]));
        if (point) expect(after[r][c]?.x).toBeCloseTo(point.x, 8);
      }),
    );
    fc.assert(
      fc.property(
        fc.double({ min: -7, max: 7, noNaN: true }),
        fc.double({ min: 0, max: 1.5, noNaN: true }),
        (turn, tilt) => {
          const at = (z: number) => project(0.3, -0.2, z, { turn, tilt, width, height });
          expect(at(0.5).y).toBeLessThan(at(0.4).y);
          expect(at(0.5).x).toBe(at(0.4).x);
          // What is turned away by half is as far behind as it was before.
          const [near, far] = [0, Math.PI].map((half) =>
            project(0.3, -0.2, 0, { turn: turn + half, tilt, width, height }),
          );
          expect(near.depth).toBeCloseTo(-far.depth, 10);
        },
      ),
    );
  });
});
