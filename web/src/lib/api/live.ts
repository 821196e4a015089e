import { z } from 'zod';
import { asOfContext, derivingQuery, FORWARD_SOURCES } from './as-of-context.ts';
import { symbolPart } from '@umwelt/market/symbol';
import { instantText, storedSymbol } from './quantity.ts';

export const FEED_SPEEDS = [1, 10, 60, 300, 600] as const;
export const STORE_MINUTES = [0, 1, 5, 15, 60] as const;

/** What can be told to the feed. */
export const feedCommand = z
  .strictObject({
    action: z.enum(['start', 'pause', 'step']).optional(),
    /** Seconds of market time a second */
    speed: z.number().min(1).max(600).optional(),
    /** Minutes of market time between stored states; 0 for none */
    storeMinutes: z.number().int().min(0).max(1440).optional(),
  })
  .meta({ id: 'FeedCommand' });
export type FeedCommand = z.infer<typeof feedCommand>;

/** State of the feed: `stopped` when its process gives no sign of life. */
export const feedStatus = z
  .object({
    state: z.enum(['running', 'paused', 'stopped']),
    /** Whether it is to run: what it was told last, also while its process is away */
    isToRun: z.boolean(),
    speed: z.number(),
    storeMinutes: z.number(),
    sequence: z.number(),
    /** Market time */
    instant: instantText.nullable(),
    storedAt: instantText.nullable(),
    prices: z.record(z.string(), z.number()),
  })
  .meta({ id: 'FeedStatus' });
export type FeedStatus = z.infer<typeof feedStatus>;

/** One undertaking of several jobs. */
export const jobGroup = z
  .object({
    group: z.string(),
    total: z.number(),
    waiting: z.number(),
    running: z.number(),
    done: z.number(),
    failed: z.number(),
    cancelled: z.number(),
    /** 0 to 1 */
    share: z.number().nullable(),
    current: z.string().nullable(),
    error: z.string().nullable(),
    createdAt: z.string(),
    finishedAt: z.string().nullable(),
  })
  .meta({ id: 'JobGroup' });
export type JobGroup = z.infer<typeof jobGroup>;

/** One of the application's processes on any machine. */
export const processStatus = z
  .object({
    id: z.string(),
    kind: z.enum(['server', 'worker', 'feed']),
    host: z.string(),
    pid: z.number(),
    /** Seconds since it started, and since its last sign of life */
    age: z.number(),
    silentFor: z.number(),
  })
  .meta({ id: 'ProcessStatus' });
export type ProcessStatus = z.infer<typeof processStatus>;

/** What every listener of the stream hears every other second. */
export const streamStatus = z.object({
  /** Whether the server reaches its database */
  isDatabaseUp: z.boolean(),
  feed: feedStatus.nullable(),
  jobs: z.array(jobGroup),
  processes: z.array(processStatus).default([]),
});
export type StreamStatus = z.infer<typeof streamStatus>;

/** What a browser shows live: an underlying under assumptions that change what is derived. */
export const liveTopic = z.object({
  symbol: storedSymbol,
  forwardSource: z.enum(FORWARD_SOURCES).default('parity'),
  carry: asOfContext.shape.carry,
  financing: asOfContext.shape.financing,
  borrowCost: asOfContext.shape.borrowCost,
  restored: asOfContext.shape.restored,
});
export type LiveTopic = z.infer<typeof liveTopic>;

/** A topic as the stream's address carries it: the symbol as a part of an address, then ?forwardSource=…&restored=… */
export function parseTopic(text: string): LiveTopic | undefined {
  const mark = text.indexOf('?');
  const [part, query] = mark < 0 ? [text, ''] : [text.slice(0, mark), text.slice(mark + 1)];
  try {
    const symbol = decodeURIComponent(part);
    const parsed = liveTopic.safeParse({ symbol, ...Object.fromEntries(new URLSearchParams(query)) });
    return parsed.success ? parsed.data : undefined;
  } catch {
    // Not percent-encoded UTF-8.
    return undefined;
  }
}

/** Text of the topic that a page shows. */
export function topicText(symbol: string, parameters: URLSearchParams): string {
  const kept = derivingQuery(parameters);
  kept.delete('asOf');
  const query = kept.toString();
  return query === '' ? symbolPart(symbol) : `${symbolPart(symbol)}?${query}`;
}

/** Topics of one connection: what a browser shows at one time. */
export const MOST_TOPICS = 20;
