import { preloadData } from '$app/navigation';
import { LIVE } from '../api/as-of-context.ts';
import type { Overview } from '../api/picture.ts';
import { clickExpiry, focusExpiry, shownExpiries } from '../market/index.ts';
import type { Address } from './address.svelte.ts';
import type { LivePicture } from './live-picture.svelte.ts';

/** Going from instant to instant and from expiry to expiry. */
export class Stepping {
  readonly #address: Address;
  readonly #live: LivePicture<Overview>;

  constructor(address: Address, live: LivePicture<Overview>) {
    this.#address = address;
    this.#live = live;
  }

  get #picture(): Overview {
    return this.#live.newest;
  }

  instant(step: 1 | -1): Promise<void> {
    return this.#to(() => (step < 0 ? this.#picture.previous : this.#picture.next), step);
  }

  /** To the last stored instant of the session before or after. */
  session(step: 1 | -1): Promise<void> {
    return this.#to(() => (step < 0 ? this.#picture.previousSession : this.#picture.nextSession), step);
  }

  /** After the latest stored instant comes the market as it runs. */
  async #to(neighbor: () => string | null, step: 1 | -1): Promise<void> {
    const to = neighbor();
    if (to === null) {
      const isAtEnd = step > 0 && !this.#live.isLive;
      return isAtEnd ? this.#address.set({ asOf: LIVE }, { isStep: true }) : undefined;
    }
    await this.#address.set({ asOf: this.#asOf(to) }, { isStep: true });
    // One step is seldom the last: the next one's picture is fetched while this one is looked at.
    const next = neighbor();
    if (next !== null) void preloadData(this.#address.href({ asOf: this.#asOf(next) }));
  }

  /** The latest stored instant is what is shown without being asked for. */
  #asOf(instant: string): string | undefined {
    return instant === this.#picture.latest ? undefined : instant;
  }

  /** Puts the expiry before or after into focus. */
  expiry(step: 1 | -1): Promise<void> {
    const { context } = this.#address;
    const shown = shownExpiries(this.#picture, context);
    const index = shown.findIndex((e) => e.date === focusExpiry(this.#picture, context)?.date);
    const next = shown[Math.min(shown.length - 1, Math.max(0, index + step))];
    return next ? this.#address.set({ expiry: next.date }) : Promise.resolve();
  }

  clickExpiry(date: string): Promise<void> {
    const { context, opening } = this.#address;
    const { expiries, expiry } = clickExpiry(this.#picture, context, date, opening);
    return this.#address.set({ expiries: expiries?.toString(), expiry });
  }

  showExpiries(which: 'all' | 'monthly' | 'none'): Promise<void> {
    // One that the others contradict comes in by its own click alone.
    const dates = which === 'none' ? [] : shownExpiries(this.#picture, { expiries: which }).map((e) => e.date);
    const { context, opening } = this.#address;
    const isFocusKept = which === 'all' || (context.expiry !== undefined && dates.includes(context.expiry));
    const expiry = isFocusKept ? context.expiry : undefined;
    const chosen = which === opening ? undefined : which === 'none' ? '' : which;
    return this.#address.set({ expiries: chosen, expiry });
  }
}
