import { streamRoute } from '$lib/api/contract/work';
import { parseTopic } from '$lib/api/live';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { liveHub } from '$lib/server/live/hub';
import { readStreamSettings } from '$lib/server/processes/environment';

/** Server-sent events: `status` every second, `picture` of each topic with every wave. */
export const GET = handle(streamRoute, ({ query }) => {
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
  const opened = liveHub().open(topics);
  if (!opened.ok) {
    const detail = `this server derives ${opened.most} topics live already; show one that others show, or try again later`;
    return problem(503, 'too-many', { detail });
  }
  return new Response(opened.stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
  });
});
