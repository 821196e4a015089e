import fc from 'fast-check';
import { expect, test } from 'vitest';
import { eventVariances, type TermPoint } from '../../src/surface/index.ts';

const TIMES = [0.02, 0.04, 0.06, 0.1, 0.17, 0.25, 0.5, 0.75, 1];

/** Numbers that look drawn, the same in every run. */
function mulberry(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** Term structure of a mean-reverting variance with events. */
function term(times: number[], o: { now: number; long: number; speed: number; events: [number, number][] }) {
  return times.map((t): TermPoint => {
    const early = -Math.expm1(-o.speed * t) / o.speed;
    let variance = o.long ** 2 * (t - early) + o.now ** 2 * early;
    for (const [time, move] of o.events) if (time < t) variance += move ** 2;
    return { timeToExpiry: t, volatility: Math.sqrt(variance / t) };
  });
}

test('the move at an event and the volatilities without it come back from the term structure they made', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.02, max: 0.25, noNaN: true }),
      fc.double({ min: 0.15, max: 0.5, noNaN: true }),
      fc.double({ min: 0.15, max: 0.5, noNaN: true }),
      fc.constantFrom(0.03, 0.05, 0.12, 0.3),
      (move, now, long, at) => {
        const points = term(TIMES, { now, long, speed: Math.LN2 / 0.2, events: [[at, move]] });
        const plain = term(TIMES, { now, long, speed: Math.LN2 / 0.2, events: [] });
        const result = eventVariances(points, [{ time: at }]);
        const [event] = result.events;
        if (!event.ok) throw new Error(event.reason);
        expect(Math.abs(event.move - move)).toBeLessThan(0.003);
        result.exEvent.forEach((v, i) => expect(Math.abs(v - plain[i].volatility)).toBeLessThan(0.012));
        expect(result.unexplained).toEqual([]);
      },
    ),
    { numRuns: 60 },
  );
});

test('an event that could as well add nothing is left in: volatility without it is the volatility', () => {
  const random = mulberry(7);
  const points = TIMES.map((timeToExpiry): TermPoint => ({
    timeToExpiry,
    volatility: 0.25 + 0.008 * (random() - 0.5),
  }));
  const events = [
    { time: 0.12, kind: 'a' },
    { time: 0.3, kind: 'b' },
  ];
  const { events: found, exEvent } = eventVariances(points, events);
  for (const event of found) expect(event.ok && event.interval[0] > 0).toBe(false);
  expect(found.some((event) => event.ok && event.move > 0.005)).toBe(true);
  exEvent.forEach((v, i) => expect(v).toBeCloseTo(points[i].volatility, 12));
});

test('the interval of a move holds the truth as often as it says, under noise in every volatility', () => {
  const random = mulberry(20310314);
  const noise = () => 0.002 * Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const [move, draws] = [0.07, 400];
  let held = 0;
  for (let n = 0; n < draws; n++) {
    const points = term(TIMES, { now: 0.3, long: 0.25, speed: Math.LN2 / 0.2, events: [[0.05, move]] });
    const seen = points.map((p) => ({ ...p, volatility: p.volatility + noise() }));
    const [event] = eventVariances(seen, [{ time: 0.05 }]).events;
    if (!event.ok) throw new Error(event.reason);
    if (event.interval[0] <= move && move <= event.interval[1]) held++;
  }
  expect(held / draws).toBeGreaterThan(0.92);
  expect(held / draws).toBeLessThan(0.98);
});

test('two expiries behind an event give it the flat ex-event formula', () => {
  // Common practice, no source: w1 = s^2 T1 + v, w2 = s^2 T2 + v.
  const [s, v] = [0.25, 0.08 ** 2];
  const points = [0.05, 0.15].map((t) => ({ timeToExpiry: t, volatility: Math.sqrt(s * s + v / t) }));
  const { events, exEvent } = eventVariances(points, [{ time: 0.02 }]);
  const [event] = events;
  if (!event.ok) throw new Error(event.reason);
  expect(event.move).toBeCloseTo(0.08, 4);
  expect(exEvent[0]).toBeCloseTo(s, 3);
});

test('an event is not identifiable with one expiry around it, behind the last expiry, or before another without an expiry between', () => {
  const one = eventVariances([{ timeToExpiry: 0.1, volatility: 0.3 }], [{ time: 0.05 }]);
  expect(one.events).toEqual([{ index: 0, ok: false, reason: 'not-identifiable' }]);
  const late = eventVariances(term(TIMES, { now: 0.3, long: 0.3, speed: 1, events: [] }), [{ time: 1.5 }]);
  expect(late.events[0].ok).toBe(false);
  const points = term(TIMES, {
    now: 0.3,
    long: 0.3,
    speed: 1,
    events: [
      [0.12, 0.05],
      [0.14, 0.05],
    ],
  });
  const twins = eventVariances(points, [{ time: 0.12 }, { time: 0.14 }]);
  expect(twins.events.map((e) => e.ok)).toEqual([false, true]);
  // The second one stands for both ...
  expect(twins.events[1].ok && twins.events[1].move).toBeCloseTo(Math.hypot(0.05, 0.05), 2);
  // ... unless they are of one kind, and so alike.
  const alike = eventVariances(points, [
    { time: 0.12, kind: 'report' },
    { time: 0.14, kind: 'report' },
  ]);
  for (const e of alike.events) expect(e.ok && e.move).toBeCloseTo(0.05, 2);
});

test('a hump without a known event is told as unexplained, with the expiry and its points', () => {
  const points = term(TIMES, { now: 0.25, long: 0.3, speed: Math.LN2 / 0.2, events: [[0.05, 0.09]] });
  const { unexplained } = eventVariances(points, []);
  expect(unexplained).toHaveLength(1);
  expect(unexplained[0].index).toBe(2);
  expect(Math.sqrt(unexplained[0].variance)).toBeCloseTo(0.09, 1);
  expect(unexplained[0].excess).toBeGreaterThan(0.1);
});
