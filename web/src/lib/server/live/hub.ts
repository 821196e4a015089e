import { LOCAL_OWNER, readStreamSettings } from '../processes/environment.ts';
import { store } from '../processes/store.ts';
import { LiveHub } from './live-hub.ts';

let hub: LiveHub | undefined;

/** This server's one hub, opened on first use. */
export function liveHub(): LiveHub {
  if (hub) return hub;
  const opened = new LiveHub(store(), { owner: LOCAL_OWNER, mostTopics: readStreamSettings().STREAM_DERIVED_TOPICS });
  process.once('sveltekit:shutdown', () => opened.close());
  hub = opened;
  return opened;
}
