import { LOCAL_OWNER, readStreamSettings } from '../processes/environment.ts';
import { store } from '../processes/store.ts';
import { LiveHub } from './live-hub.ts';

let hub: LiveHub | undefined;

/** This server's one hub, opened on first use. */
export function liveHub(): LiveHub {
  if (hub) return hub;
  const { STREAM_DERIVED_TOPICS, STREAMS_PER_CLIENT, STREAMS } = readStreamSettings();
  const most = { topics: STREAM_DERIVED_TOPICS, perClient: STREAMS_PER_CLIENT, all: STREAMS };
  const opened = new LiveHub(store(), { owner: LOCAL_OWNER, most });
  process.once('sveltekit:shutdown', () => opened.close());
  hub = opened;
  return opened;
}
