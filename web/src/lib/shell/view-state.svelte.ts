import { symbolPart } from '@umwelt/market/symbol';
import { createContext } from 'svelte';
import { goto, preloadData } from '$app/navigation';
import { page } from '$app/state';
import { clickExpiry, focusExpiry, shownExpiries } from '../market/index.ts';
import { tickDecimals } from '../ui/format.ts';
import { type Workings, workingsOf } from '../measures/index.ts';
import { type AsOfContext, LIVE, parseContext } from '../api/as-of-context.ts';
import { borrowResponse, type BorrowResponse } from '../api/borrow.ts';
import { topicText } from '../api/live.ts';
import type { SentenceAction } from '$lib/shell/reading/sentence';
import type { Picture, Side } from '../api/picture.ts';
import { pricerHref } from './pricer-href.ts';
import { type Compared, Comparisons } from './comparisons.svelte.ts';
import { volatilityInForce } from '../theory/index.ts';
import { Fetched } from '../api/fetched.svelte.ts';
import type { LiveState } from './live-state.svelte.ts';
import type { WorkingsHost } from './workings-host.ts';

/** The view's state: the picture that was loaded and what the URL says of it. Every change goes through the URL. */
export class ViewState implements WorkingsHost {
  readonly #loaded: () => Picture;
  readonly #live: LiveState;
  readonly #borrow: Fetched<BorrowResponse>;
  readonly #comparisons: Comparisons;
  /** How often the link has been changed here */
  borrowChanges = $state(0);
  readonly context: AsOfContext = $derived(parseContext(page.url.searchParams));
  readonly shown = $derived.by(() => shownExpiries(this.picture, this.context));
  readonly focus = $derived.by(() => focusExpiry(this.picture, this.context));

  readonly inForce = $derived.by(() => volatilityInForce(this.picture, this.context));

  /** @param loaded what the page was loaded with; the feed's newer pictures take its place while live */
  constructor(loaded: () => Picture, live: LiveState) {
    this.#loaded = loaded;
    this.#live = live;
    this.#borrow = new Fetched(borrowResponse, () => this.#borrowAddress);
    this.#comparisons = new Comparisons(
      () => this.context.compare,
      () => this.#minute,
    );
  }

  /** Asked for again with every minute of the picture, and when the link was changed. */
  get #borrowAddress(): string {
    const { symbol } = this.#newest.underlying;
    return `/api/v1/underlyings/${symbolPart(symbol)}/borrow?asOf=${encodeURIComponent(this.#minute)}&change=${this.borrowChanges}`;
  }

  /** The end of the picture's minute: what others are asked for at, once a minute while live. */
  get #minute(): string {
    const { asOf } = this.#newest;
    return `${asOf.slice(0, 16)}:59${asOf.slice(19)}`;
  }

  /** Pictures held beside this one. */
  get compared(): Compared[] {
    return this.#comparisons.list;
  }

  /** What the underlying borrows from others; undefined until it has arrived. */
  get borrow(): BorrowResponse | undefined {
    return this.#borrow.answer;
  }

  get isLive(): boolean {
    return this.context.asOf === LIVE;
  }

  /** What the stream is asked for while live. */
  get topic(): string | undefined {
    return this.isLive ? topicText(this.#loaded().underlying.symbol, page.url.searchParams) : undefined;
  }

  /** The newest picture, each expiry with the smile it borrows. */
  readonly picture: Picture = $derived.by(() => {
    const picture = this.#newest;
    const smiles = this.borrow?.expiries ?? {};
    if (Object.keys(smiles).length === 0) return picture;
    return { ...picture, expiries: picture.expiries.map((e) => ({ ...e, borrowed: smiles[e.date] })) };
  });

  get #newest(): Picture {
    const loaded = this.#loaded();
    const newest = this.#live.picture;
    if (!newest || newest.topic !== this.topic) return loaded;
    // The page may have been loaded after the last wave that the stream brought.
    return loaded.isLive && Date.parse(loaded.asOf) > Date.parse(newest.picture.asOf) ? loaded : newest.picture;
  }

  /** Names what values are of: underlying and instant, the same through all waves while live. */
  get theoryStamp(): string {
    return `${this.picture.underlying.symbol} ${this.isLive ? LIVE : this.picture.asOf}`;
  }

  get workingsId(): string | undefined {
    return this.context.workings;
  }

  openWorkings(id: string): void {
    void this.set({ workings: id });
  }

  closeWorkings(): void {
    void this.set({ workings: undefined });
  }

  explain(id: string): Workings | undefined {
    return workingsOf(this.picture, this.context, id);
  }

  get decimals(): number {
    return tickDecimals(this.picture.underlying.underlyingTick);
  }

  get stamp(): string {
    return this.picture.asOf;
  }

  /** Pricer with the option of a figure, or with the focus expiry's nearest to the forward. */
  pricerHref(id?: string): string {
    return pricerHref(this.picture.underlying.symbol, page.url.searchParams, this.focus?.date, id);
  }

  /** Address of the present state with some parameters changed; undefined takes one out. */
  href(changes: Record<string, string | undefined>, path: string = page.url.pathname): string {
    const parameters = new URLSearchParams(page.url.searchParams);
    // An expiry that is chosen, or let go, ends the search for a tenor.
    if ('expiry' in changes) parameters.delete('tenor');
    for (const [name, value] of Object.entries(changes)) {
      if (value === undefined) parameters.delete(name);
      else parameters.set(name, value);
    }
    const query = parameters
      .toString()
      .replaceAll('%2C', ',')
      .replaceAll('%3A', ':')
      .replaceAll('%2F', '/')
      .replaceAll('%7E', '~');
    return query === '' ? path : `${path}?${query}`;
  }

  /** Changes the URL in place; `isStep` keeps an entry in the history so that Back returns. */
  set(changes: Record<string, string | undefined>, o: { isStep?: boolean } = {}): Promise<void> {
    return goto(this.href(changes), { replaceState: !o.isStep, noScroll: true, keepFocus: true });
  }

  clickExpiry(date: string): Promise<void> {
    const { expiries, expiry } = clickExpiry(this.picture, this.context, date);
    return this.set({ expiries: expiries?.join(','), expiry });
  }

  stepExpiry(step: 1 | -1): Promise<void> {
    const index = this.shown.findIndex((e) => e.date === this.focus?.date);
    const next = this.shown[Math.min(this.shown.length - 1, Math.max(0, index + step))];
    return next ? this.set({ expiry: next.date }) : Promise.resolve();
  }

  showExpiries(which: 'all' | 'monthly' | 'none'): Promise<void> {
    const { expiries } = this.picture;
    if (which === 'all') return this.set({ expiries: undefined });
    const dates = which === 'none' ? [] : expiries.filter((e) => e.isMonthly).map((e) => e.date);
    const isFocusKept = this.context.expiry !== undefined && dates.includes(this.context.expiry);
    return this.set({ expiries: dates.join(','), expiry: isFocusKept ? this.context.expiry : undefined });
  }

  stepInstant(step: 1 | -1): Promise<void> {
    return this.#stepTo(() => (step < 0 ? this.picture.previous : this.picture.next), step);
  }

  /** Steps to the last stored instant of the session before or after. */
  stepSession(step: 1 | -1): Promise<void> {
    return this.#stepTo(() => (step < 0 ? this.picture.previousSession : this.picture.nextSession), step);
  }

  /** After the latest stored instant comes the market as it runs. */
  async #stepTo(neighbor: () => string | null, step: 1 | -1): Promise<void> {
    const to = neighbor();
    if (to === null) {
      const isAtEnd = step > 0 && !this.isLive;
      return isAtEnd ? this.set({ asOf: LIVE }, { isStep: true }) : undefined;
    }
    await this.set({ asOf: this.#asOf(to) }, { isStep: true });
    // One step is seldom the last: the next one's picture is fetched while this one is looked at.
    const next = neighbor();
    if (next !== null) void preloadData(this.href({ asOf: this.#asOf(next) }));
  }

  /** The latest stored instant is what is shown without being asked for. */
  #asOf(instant: string): string | undefined {
    return instant === this.picture.latest ? undefined : instant;
  }

  /** Goes live, or back to the latest stored instant. */
  toggleLive(): Promise<void> {
    return this.set({ asOf: this.isLive ? undefined : LIVE }, { isStep: true });
  }

  /** Does what a sentence of the Reading offers. */
  act = (action: SentenceAction): void => {
    if (action === 'restore-all') void this.set({ restored: undefined }, { isStep: true });
    else void this.clickExpiry(action.slice('show-expiry:'.length));
  };

  /** Puts a judged quote back into the fit, or takes it out again. */
  toggleRestored(date: string, strike: number, side: Side): Promise<void> {
    const key = (r: { expiry: string; strike: number; side: Side }) => `${r.expiry}/${r.strike}/${r.side}`;
    const own = key({ expiry: date, strike, side });
    const keys = this.context.restored.map(key);
    const next = keys.includes(own) ? keys.filter((k) => k !== own) : [...keys, own];
    return this.set({ restored: next.length > 0 ? next.join(',') : undefined }, { isStep: true });
  }

  isRestored(date: string, strike: number, side: Side): boolean {
    return this.context.restored.some((r) => r.expiry === date && r.strike === strike && r.side === side);
  }
}

export const [viewState, setViewState] = createContext<ViewState>();
