import { expect, test } from 'vitest';
import { Application } from '../running-application.ts';
import { address, database } from './ask.ts';

/* Two servers on one database, no browser open: what is stored by one the other tells at the next request. */

interface Term {
  asOf: string;
  term: { atm: number }[];
}

const chain = (above: number, days: number[]) =>
  [
    'underlying,as_of,underlying_price,expiry,side,strike,bid,ask',
    ...days.flatMap((day) =>
      [90, 95, 100, 105, 110].flatMap((strike) =>
        (['call', 'put'] as const).map((side) => {
          const value = Math.max(0, side === 'call' ? 100 - strike : strike - 100) + above;
          return `TWICE,2031-03-0${day}T12:00:00Z,100,2031-06-20,${side},${strike},${value},${value + 0.1}`;
        }),
      ),
    ),
  ].join('\n');

test('a second server agrees at the next request: an import, a later instant, a new symbol, what is taken back', async () => {
  const application = { address };
  const second = await Application.start('second_server', { database, workers: 0 });
  try {
    const bring = async (to: { address: string }, above: number, days: number[]) => {
      const answer = await fetch(`${to.address}/api/v1/imports/chains`, {
        method: 'POST',
        headers: { 'content-type': 'text/csv' },
        body: chain(above, days),
      });
      expect(answer.status).toBe(200);
      return (await answer.json()) as { id: string };
    };
    const termOf = async (at: { address: string }, symbol = 'TWICE') => {
      const answer = await fetch(`${at.address}/api/v1/underlyings/${symbol}/term`);
      return answer.ok ? ((await answer.json()) as Term) : answer.status;
    };
    const both = async (symbol?: string) => {
      const [a, b] = [await termOf(application, symbol), await termOf(second, symbol)];
      expect(b).toEqual(a);
      return a;
    };

    expect(await both()).toBe(404);
    await bring(application, 3, [3]);
    const first = (await both()) as Term;
    const { id } = await bring(second, 5, [3]);
    const dearer = (await both()) as Term;
    expect(dearer.term[0].atm).toBeGreaterThan(first.term[0].atm + 0.02);
    await bring(application, 6, [4]);
    expect(((await both()) as Term).asOf).not.toBe(first.asOf);
    const undone = await fetch(`${second.address}/api/v1/imports/${id}`, { method: 'DELETE' });
    expect(undone.ok).toBe(true);
    const old = await Promise.all(
      [application, second].map(async ({ address }) =>
        (await fetch(`${address}/api/v1/underlyings/TWICE/term?asOf=2031-03-03T12:00:00Z`)).json(),
      ),
    );
    expect((old[0] as Term).term[0].atm).toBeCloseTo(first.term[0].atm, 12);
    expect(old[1]).toEqual(old[0]);

    const renamed = await fetch(`${application.address}/api/v1/underlyings/TWICE`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ symbol: 'THRICE' }),
    });
    expect(renamed.ok).toBe(true);
    expect(((await both('THRICE')) as Term).term).toHaveLength(1);
  } finally {
    await second.stop();
  }
});
