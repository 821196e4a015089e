import { createContext } from 'svelte';
import { z } from 'zod';
import { ask } from '../api/client/ask.ts';
import { commandFeedRoute } from '../api/contract/work.ts';
import { type FeedCommand, type StreamStatus, streamStatus } from '../api/live.ts';
import { type Picture, picture } from '../api/picture.ts';
import { StreamClient } from '../api/client/stream-client.ts';
import { type FromStream, HERE_MILLISECONDS, type ToStream } from '../api/client/stream-protocol.ts';

const pictureEvent = z.object({ topic: z.string(), picture });

/** What the server tells by itself: state of feed and jobs, and the newest picture of what is shown live. */
export class LiveState {
  status = $state.raw<StreamStatus>();
  isConnected = $state(false);
  /** When the connection was lost or made, milliseconds since 1970 */
  since = $state(0);
  /** Newest picture of the topic shown, and when it came */
  picture = $state.raw<{ topic: string; picture: Picture; at: number }>();
  /** Now, for ages; moves once a second */
  now = $state(0);
  #send: ((message: ToStream) => void) | undefined;
  #topic: string | undefined;

  /** Joins the browser's one stream; leaves it when the page goes. */
  connect(): () => void {
    this.now = Date.now();
    const clock = setInterval(() => (this.now = Date.now()), 1000);
    const leave = this.#join();
    this.#tellTopic();
    return () => {
      clearInterval(clock);
      leave();
    };
  }

  #join(): () => void {
    if (typeof SharedWorker === 'undefined') {
      const client = new StreamClient((message) => this.#hear(message));
      this.#send = (message) => {
        if (message.type === 'topics') client.show(message.topics);
      };
      return () => client.close();
    }
    const worker = new SharedWorker(new URL('../api/client/stream.shared-worker.ts', import.meta.url), {
      type: 'module',
      name: 'stream',
    });
    const send = (message: ToStream) => worker.port.postMessage(message);
    worker.port.onmessage = ({ data }: MessageEvent<FromStream>) => this.#hear(data);
    worker.port.start();
    this.#send = send;
    const here = setInterval(() => send({ type: 'here' }), HERE_MILLISECONDS);
    const bye = () => send({ type: 'bye' });
    // A page that comes back from the browser's cache joins again.
    const back = () => this.#tellTopic();
    window.addEventListener('pagehide', bye);
    window.addEventListener('pageshow', back);
    return () => {
      clearInterval(here);
      window.removeEventListener('pagehide', bye);
      window.removeEventListener('pageshow', back);
      bye();
    };
  }

  /** Shows a topic live; undefined for none. */
  show(topic: string | undefined): void {
    if (topic === this.#topic) return;
    this.#topic = topic;
    this.#tellTopic();
  }

  #tellTopic(): void {
    this.#send?.({ type: 'topics', topics: this.#topic === undefined ? [] : [this.#topic] });
  }

  #hear(message: FromStream): void {
    switch (message.type) {
      case 'connection':
        this.isConnected = message.isOpen;
        this.since = message.since;
        break;
      case 'status': {
        const parsed = streamStatus.safeParse(JSON.parse(message.data));
        if (parsed.success) this.status = parsed.data;
        break;
      }
      case 'picture': {
        if (message.topic !== this.#topic) return;
        const parsed = pictureEvent.safeParse(JSON.parse(message.data));
        if (parsed.success) this.picture = { ...parsed.data, at: Date.now() };
      }
    }
  }

  /** Tells the feed what to do; false when the server did not take it. */
  async command(command: FeedCommand): Promise<boolean> {
    try {
      const feed = await ask(commandFeedRoute, { body: command });
      if (this.status) this.status = { ...this.status, feed };
      return true;
    } catch {
      return false;
    }
  }
}

export const [liveState, setLiveState] = createContext<LiveState>();
