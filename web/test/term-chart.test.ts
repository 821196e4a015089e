import fc from 'fast-check';
import type { Data } from 'plotly.js';
import { expect, test } from 'vitest';
import { termRows } from '../src/lib/market/index.ts';
import { EXPIRY_MEASURES } from '../src/lib/measures/index.ts';
import { expiryColumns } from '../src/lib/shell/expiry-columns.ts';
import { PALETTES } from '../src/lib/ui/palette.ts';
import { termChart } from '../src/lib/views/term/term-chart.ts';
import { madePicture } from './made-picture.ts';

/* What Term draws of a made chain, number by number. */

const picture = madePicture();
const [, focus] = picture.expiries;
const palette = PALETTES.day;
const width = 900;

interface Trace {
  mode?: string;
  x: (number | null)[];
  y: (number | null)[];
}
const tracesOf = (data: Data[]) => data as unknown as Trace[];

test('Term stands on the square root of time, its forward volatilities rebuild the level', () => {
  const { data } = termChart(picture, {
    shown: picture.expiries,
    focus,
    lines: ['forward'],
    beside: [],
    scale: 'level',
    palette,
    width,
    height: 400,
  });
  const level = tracesOf(data).find((t) => t.mode === 'lines+markers');
  const fitted = picture.expiries.filter((e) => e.atm !== null);
  expect(level?.x).toEqual(fitted.map((e) => Math.sqrt(e.days)));
  expect(level?.y).toEqual(fitted.map((e) => 100 * (e.atm ?? NaN)));
  const forward = tracesOf(data).find((t) => t !== level && t.x.length >= fitted.length);
  if (!forward) throw new Error('no forward volatility');
  // Forward variances over the time between expiries add up to each expiry's own.
  const values = fitted.map((e) => forward.y[forward.x.indexOf(Math.sqrt(e.days))] ?? NaN);
  let variance = 0;
  fitted.forEach((e, i) => {
    variance += (values[i] / 100) ** 2 * (e.years - (fitted[i - 1]?.years ?? 0));
    expect(Math.sqrt(variance / e.years)).toBeCloseTo(e.atm ?? NaN, 10);
  });
});

test('the level owns the scale of Term: it fills half of it at least, and what leaves the range is marked where it does', () => {
  const wild = fc.array(fc.option(fc.double({ min: 1, max: 200, noNaN: true }), { nil: null }), {
    minLength: picture.expiries.length,
    maxLength: picture.expiries.length,
  });
  fc.assert(
    fc.property(wild, (realized) => {
      const expiries = picture.expiries.map((e, i) => {
        const volatility = realized[i];
        return {
          ...e,
          realized: volatility === null ? null : { volatility: volatility / 100, sessions: 9, sum: 0, squares: 0 },
        };
      });
      const { data, layout } = termChart(
        { ...picture, expiries, events: [] },
        { shown: expiries, focus, lines: ['realized'], beside: [], scale: 'level', palette, width, height: 400 },
      );
      const [low, high] = (layout.yaxis?.range ?? []) as [number, number];
      const level = expiries.flatMap((e) => (e.atm === null ? [] : [100 * e.atm]));
      const span = Math.max(2, Math.max(...level) - Math.min(...level));
      for (const y of level) {
        expect(y).toBeGreaterThan(low);
        expect(y).toBeLessThan(high);
      }
      expect(high - low).toBeLessThan(3 * span);
      const outside = realized.filter((v) => v !== null).map((v) => (v > high ? 1 : v < low ? -1 : 0));
      const stretches = outside.filter((side, i) => side !== 0 && side !== outside[i - 1]).length;
      const marks = tracesOf(data).find((t) => t.mode === 'markers');
      expect(marks?.x.length ?? 0).toBe(stretches);
      for (const y of marks?.y ?? []) expect([low, high]).toContain(y);
    }),
    { numRuns: 60 },
  );
});

test('events stand in a strip above Term: a mark each, the next of each kind by name, the rest counted', () => {
  const drawn = fc.array(fc.tuple(fc.integer({ min: 1, max: 300 }), fc.constantFrom('Report', 'Council')), {
    maxLength: 9,
  });
  fc.assert(
    fc.property(drawn, (dated) => {
      const last = picture.expiries.at(-1)?.days ?? 0;
      const events = [...dated]
        .sort(([a], [b]) => a - b)
        .map(([day, label]) => ({
          instant: new Date(Date.parse(picture.asOf) + day * 86_400_000).toISOString(),
          ...{ kind: label, label, implied: null },
        }));
      const { layout } = termChart(
        { ...picture, events },
        { shown: picture.expiries, focus, lines: [], beside: [], scale: 'level', palette, width, height: 400 },
      );
      const within = events.filter((e) => Date.parse(e.instant) - Date.parse(picture.asOf) <= last * 86_400_000);
      const named = (layout.annotations ?? []).filter((a) => a.text?.startsWith('⚑'));
      const marks = (layout.shapes ?? []).filter((s) => s.ysizemode === 'pixel');
      expect(marks).toHaveLength(within.length);
      // None of them reaches into the plot.
      for (const { y0, yanchor } of marks) expect([y0, yanchor]).toEqual([0, 1]);
      expect(new Set(named.map((a) => a.text)).size).toBe(named.length);
      expect(named.length).toBeLessThanOrEqual(new Set(within.map((e) => e.kind)).size);
      const counted = (layout.annotations ?? []).find((a) => / more event/.test(a.text ?? ''))?.text;
      expect(counted === undefined ? 0 : Number.parseInt(counted)).toBe(within.length - named.length);
    }),
    { numRuns: 60 },
  );
});

test('a forward volatility goes between the expiries that are shown, and says from which; none from one delivery of a future to another', () => {
  const [first, second, , last] = picture.expiries.map((e, i) => ({ ...e, atm: [0.2, 0.5, 0.22, 0.26][i] }));
  const varied = { ...picture, expiries: picture.expiries.map((e, i) => ({ ...e, atm: [0.2, 0.5, 0.22, 0.26][i] })) };
  const context = { volatilitySource: 'smile', forwardSource: 'parity', expiries: [first.date, last.date] } as const;
  const measure = EXPIRY_MEASURES.find((m) => m.id === 'forwardVolatility');
  const expiry = varied.expiries[3];
  const subject = { picture: varied, context: { ...context, expiries: [...context.expiries] }, expiry };
  const between = Math.sqrt((0.26 ** 2 * last.days - 0.2 ** 2 * first.days) / (last.days - first.days));
  expect(measure?.value(subject)).toBeCloseTo(between, 12);
  expect(measure?.inputs(subject).find((i) => i.symbol === 'T₀')?.value).toBe(first.years);
  const column = expiryColumns(subject as never, []).find((c) => c.id === 'forwardVolatility');
  expect(column?.text(expiry)).toBe(`28 Mar → ${(100 * between).toFixed(1)}`);
  // The API's is from the listed expiry before.
  const rows = termRows(varied);
  expect(rows[1].forwardVolatility).toBeCloseTo(
    Math.sqrt((0.5 ** 2 * second.days - 0.2 ** 2 * first.days) / (second.days - first.days)),
    12,
  );
  // The third lies below the second: variance falls, and the line is interrupted there.
  expect(rows[2].forwardVolatility).toBeNull();
  const { data } = termChart(varied, {
    ...{ shown: varied.expiries, focus, lines: ['forward'], beside: [], scale: 'level', palette, width, height: 400 },
  });
  const drawn = tracesOf(data).find((t) => t.y.includes(null));
  expect(drawn?.x.slice(-3)).toEqual([
    Math.sqrt(varied.expiries[2].days),
    Math.sqrt(varied.expiries[2].days),
    Math.sqrt(last.days),
  ]);
  const onFutures = varied.expiries.map((e, i) => ({
    ...{ ...e, model: 'futures' as const, underlyingPrice: i < 2 ? 100 : 103 },
  }));
  expect(termRows({ ...varied, expiries: onFutures }).map((r) => r.forwardVolatility === null)).toEqual([
    ...[false, false, true, false],
  ]);
  const step = measure?.note?.({ ...subject, picture: { ...varied, expiries: onFutures }, expiry: onFutures[3] });
  expect(step).toContain('another delivery month');
});
