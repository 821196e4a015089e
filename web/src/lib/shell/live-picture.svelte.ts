import { page } from '$app/state';
import { LIVE } from '../api/as-of-context.ts';
import { topicText } from '../api/live.ts';
import type { Overview } from '../api/picture.ts';
import type { Address } from './address.svelte.ts';
import type { LiveState } from './live-state.svelte.ts';

/** What the page was loaded with, or while live what the feed has brought since. */
export class LivePicture<P extends Overview> {
  readonly #loaded: () => P;
  readonly #live: LiveState;
  readonly #address: Address;

  constructor(loaded: () => P, live: LiveState, address: Address) {
    this.#loaded = loaded;
    this.#live = live;
    this.#address = address;
  }

  get isLive(): boolean {
    return this.#address.context.asOf === LIVE;
  }

  /** What the stream is asked for while live. */
  get topic(): string | undefined {
    return this.isLive ? topicText(this.#loaded().underlying.symbol, page.url.searchParams) : undefined;
  }

  get newest(): P {
    const loaded = this.#loaded();
    const newest = this.#live.picture;
    if (!newest || newest.topic !== this.topic) return loaded;
    // The page may have been loaded after the last wave that the stream brought.
    if (loaded.isLive && Date.parse(loaded.asOf) > Date.parse(newest.picture.asOf)) return loaded;
    // The stream brings everything, which is as much as any view asks for.
    return newest.picture as Overview as P;
  }

  /** The end of the picture's minute: what others are asked for at, once a minute while live. */
  get minute(): string {
    const { asOf } = this.newest;
    return `${asOf.slice(0, 16)}:59${asOf.slice(19)}`;
  }

  /** Goes live, or back to the latest stored instant. */
  toggle(): Promise<void> {
    return this.#address.set({ asOf: this.isLive ? undefined : LIVE }, { isStep: true });
  }
}
