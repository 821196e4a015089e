import { streamRoute } from '$lib/api/contract/work';
import { parseTopic } from '$lib/api/live';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { liveHub } from '$lib/server/live/hub';
import { readStreamSettings } from '$lib/server/processes/environment';

const REFUSALS = {
  topics: (most: number) =>
    `this server derives ${most} topics live already; show one that others show, or try again later`,
  client: (most: number) => `from this address ${most} streams are open already; close one, or try again later`,
  all: (most: number) => `${most} streams are open already; try again later`,
};

/** Server-sent events: `status` every second, `picture` of each topic with every wave. */
export const GET = handle(streamRoute, ({ query, event }) => {
  const { STREAM_TOPICS } = readStreamSettings();
  const topics = [...new Set(query.topic)];
  const bad = topics.find((topic) => !parseTopic(topic));
  if (bad !== undefined || topics.length > STREAM_TOPICS) {
    const message =
      bad === undefined
        ? `at most ${STREAM_TOPICS} a connection`
        : `not a symbol with assumptions: ${bad.slice(0, 80)}`;
    return problem(400, 'invalid-request', { errors: [{ path: 'topic', message }] });
  }
  const opened = liveHub().open(topics, event.getClientAddress());
  if (!opened.ok) {
    return problem(503, 'too-many', { detail: REFUSALS[opened.of](opened.most) });
  }
  return new Response(opened.stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
  });
});
