import type { RequestHandler } from './$types';
import { problem } from '$lib/server/http/problem';
import { liveHub } from '$lib/server/live/hub';
import { parseTopic } from '$lib/schema/live';

const MAX_TOPICS = 60;

/** Server-sent events: `status` every second, `picture` of each topic with every wave. */
export const GET: RequestHandler = ({ url }) => {
  const topics = [...new Set(url.searchParams.getAll('topic'))];
  const bad = topics.find((topic) => !parseTopic(topic));
  if (bad !== undefined || topics.length > MAX_TOPICS) {
    const message = bad === undefined ? `at most ${MAX_TOPICS}` : `not a symbol with assumptions: ${bad.slice(0, 80)}`;
    return problem(400, 'invalid-request', { errors: [{ path: 'topic', message }] });
  }
  return new Response(liveHub().open(topics), {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
  });
};
