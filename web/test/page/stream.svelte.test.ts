import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { StreamClient } from '../../src/lib/api/client/stream-client.ts';
import type { FromStream } from '../../src/lib/api/client/stream-protocol.ts';
import { MOST_TOPICS } from '../../src/lib/api/live.ts';
import { LiveState } from '../../src/lib/shell/live-state.svelte.ts';
import { madePicture } from '../made-picture.ts';

/* The one stream of a browser: opened for what is shown, anew when that changes or it breaks, and told to who comes later. */

class Source {
  static all: Source[] = [];
  readonly url: string;
  isClosed = false;
  readonly #hears = new Map<string, (event: { data: string }) => void>();
  constructor(url: string) {
    this.url = url;
    Source.all.push(this);
  }
  addEventListener(name: string, hear: (event: { data: string }) => void): void {
    this.#hears.set(name, hear);
  }
  say(name: string, data = ''): void {
    this.#hears.get(name)?.({ data });
  }
  close(): void {
    this.isClosed = true;
  }
  get topics(): string[] {
    return new URL(this.url, 'http://localhost').searchParams.getAll('topic');
  }
}

const STATUS = {
  ...{ isDatabaseUp: true, jobs: [], processes: [] },
  feed: {
    state: 'running',
    isToRun: true,
    speed: 1,
    storeMinutes: 0,
    sequence: 3,
    instant: null,
    storedAt: null,
    prices: {},
  },
};
const open = () => Source.all.filter((s) => !s.isClosed);

/** What the browser tells of its connection. */
let browser: EventTarget;
beforeEach(() => {
  vi.useFakeTimers();
  browser = new EventTarget();
  vi.stubGlobal('addEventListener', browser.addEventListener.bind(browser));
  Source.all = [];
  vi.stubGlobal('EventSource', Source);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe('the stream of a browser', () => {
  test('is opened once for a set of topics, whatever their order, and anew for another', () => {
    const client = new StreamClient(() => undefined);
    client.show(['VM50', 'KELPA', 'VM50']);
    client.show(['KELPA', 'VM50']);
    expect(Source.all).toHaveLength(1);
    expect(open()[0].topics).toEqual(['KELPA', 'VM50']);
    client.show(['KELPA']);
    expect(open().map((s) => s.topics)).toEqual([['KELPA']]);
    client.show(Array.from({ length: MOST_TOPICS + 5 }, (_, i) => `S${String(i).padStart(2, '0')}`));
    // Those of the tabs that were opened last.
    expect(open()[0].topics).toHaveLength(MOST_TOPICS);
    expect(open()[0].topics[0]).toBe('S05');
    client.close();
    expect(open()).toEqual([]);
  });

  test('that breaks is tried again after a second, and tells of both once', () => {
    const told: FromStream[] = [];
    const client = new StreamClient((message) => told.push(message));
    client.show(['VM50']);
    open()[0].say('open');
    open()[0].say('open');
    open()[0].say('error');
    expect(told.map((m) => m.type === 'connection' && m.isOpen)).toEqual([true, false]);
    expect(open()).toEqual([]);
    vi.advanceTimersByTime(999);
    expect(open()).toEqual([]);
    vi.advanceTimersByTime(1);
    expect(open()[0].topics).toEqual(['VM50']);
    client.close();
    vi.advanceTimersByTime(5000);
    expect(open()).toEqual([]);
  });

  test('is broken when the browser is offline, and does not wait when it is back', () => {
    const told: FromStream[] = [];
    const client = new StreamClient((message) => told.push(message));
    client.show(['VM50']);
    open()[0].say('open');
    browser.dispatchEvent(new Event('offline'));
    expect(open()).toEqual([]);
    browser.dispatchEvent(new Event('online'));
    open()[0].say('open');
    expect(told.map((m) => m.type === 'connection' && m.isOpen)).toEqual([true, false, true]);
    client.close();
  });

  test('keeps the newest of each topic for a tab that comes later, and of no topic that nobody shows', () => {
    const client = new StreamClient(() => undefined);
    client.show(['KELPA', 'VM50']);
    const [source] = open();
    source.say('status', '{"n":1}');
    source.say('picture', '{"topic":"VM50","picture":{"n":1}}');
    source.say('picture', '{"topic":"VM50","picture":{"n":2}}');
    source.say('picture', '{"topic":"KELPA","picture":{"n":3}}');
    const newest = () => client.newest.flatMap((m) => (m.type === 'connection' ? [] : [m.data]));
    expect(newest()).toEqual(['{"n":1}', '{"topic":"VM50","picture":{"n":2}}', '{"topic":"KELPA","picture":{"n":3}}']);
    client.show(['KELPA']);
    expect(newest()).toEqual(['{"n":1}', '{"topic":"KELPA","picture":{"n":3}}']);
    client.close();
  });
});

describe('a page', () => {
  test('shows the status, and the pictures of its own topic alone; what cannot be read it leaves', () => {
    const live = new LiveState();
    const leave = live.connect();
    live.show('FJRD');
    const [source] = open();
    source.say('open');
    source.say('status', JSON.stringify(STATUS));
    expect(live).toMatchObject({ isConnected: true, status: { feed: { sequence: 3 } } });
    const picture = { ...madePicture(), isLive: true };
    source.say('picture', JSON.stringify({ topic: 'KELPA', picture }));
    expect(live.picture).toBeUndefined();
    source.say('picture', JSON.stringify({ topic: 'FJRD', picture }));
    expect(live.picture).toMatchObject({ topic: 'FJRD', picture: { price: 100 } });
    source.say('picture', JSON.stringify({ topic: 'FJRD', picture: { price: 7 } }));
    source.say('status', '{"isDatabaseUp":"no"}');
    expect([live.picture?.picture.price, live.status?.isDatabaseUp]).toEqual([100, true]);
    source.say('error');
    expect(live.isConnected).toBe(false);
    leave();
    expect(open()).toEqual([]);
  });

  test('tells the feed what to do, and shows what it does then; false where the server did not take it', async () => {
    const asked: unknown[] = [];
    let answer: () => Promise<Response> = () => Promise.resolve(Response.json({ ...STATUS.feed, state: 'paused' }));
    vi.stubGlobal('fetch', (address: string, o: { body: string }) => {
      asked.push([address, JSON.parse(o.body)]);
      return answer();
    });
    const live = new LiveState();
    const leave = live.connect();
    live.show('FJRD');
    open()[0].say('status', JSON.stringify(STATUS));
    expect(await live.command({ action: 'pause' })).toBe(true);
    expect(asked).toEqual([['/api/v1/feed', { action: 'pause' }]]);
    expect(live.status?.feed?.state).toBe('paused');
    answer = () => Promise.resolve(Response.json({ detail: 'no feed has run yet' }, { status: 404 }));
    expect(await live.command({ action: 'start' })).toBe(false);
    answer = () => Promise.reject(new TypeError('failed'));
    expect(await live.command({ action: 'start' })).toBe(false);
    expect(live.status?.feed?.state).toBe('paused');
    leave();
  });
});
