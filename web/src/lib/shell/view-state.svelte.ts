import { createContext } from 'svelte';
import { SvelteMap } from 'svelte/reactivity';
import { page } from '$app/state';
import { derivingQuery, type ExpirySet, LIVE } from '../api/as-of-context.ts';
import { Fetched } from '../api/client/fetched.svelte.ts';
import { marketRoute } from '../api/contract/views.ts';
import { legsText, pick, type PickableOption } from '../api/picked-legs.ts';
import { isQuoted, joinQuotes, type Overview, type Picture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import { workingsId } from '../api/workings-id.ts';
import { focusExpiry, shownExpiries } from '../market/index.ts';
import { type FigureScale, figureScale, needsQuotes, type Workings, workingsOf } from '../measures/index.ts';
import { volatilityInForce } from '../theory/index.ts';
import { Address } from './address.svelte.ts';
import type { Changes } from './changes.svelte.ts';
import { Borrowing } from './borrowing.svelte.ts';
import { LivePicture } from './live-picture.svelte.ts';
import type { LiveState } from './live-state.svelte.ts';
import { pricerHref } from './pricer-href.ts';
import type { SentenceAction } from './reading/sentence.ts';
import { Stepping } from './stepping.ts';
import type { WorkingsHost } from './workings-host.ts';

/**
 * What a view of an underlying stands on: the picture that is shown, as far as the view asked for it, and what the address says of
 * it. Every change goes through the address.
 */
export class ViewState<P extends Overview = Overview> implements WorkingsHost {
  readonly address: Address;
  readonly live: LivePicture<P>;
  readonly borrowing: Borrowing;
  readonly stepping: Stepping;

  /** The newest picture, each expiry with the smile it borrows. */
  readonly picture: P = $derived.by(() => this.borrowing.with(this.live.newest));
  readonly shown: P['expiries'] = $derived.by(() => shownExpiries(this.picture, this.context));
  readonly focus: P['expiries'][number] | undefined = $derived.by(() => focusExpiry(this.picture, this.context));
  // Every number on the screen looks at it.
  readonly workingsId = $derived(workingsId.parse(page.url.searchParams.get('workings') ?? undefined));
  readonly inForce = $derived.by(() => volatilityInForce(this.picture, this.context));
  /** Who explains figures that are not of the picture. */
  readonly #others = new SvelteMap<string, (id: string) => Workings | undefined>();
  /** Quotes for Workings, of a view that asked for none. */
  readonly #quotes = new Fetched(marketRoute, () => {
    const { picture, workingsId: id } = this;
    if (id === undefined || !needsQuotes(id) || picture.expiries.every(isQuoted)) return undefined;
    const query = derivingQuery(page.url.searchParams);
    query.set('asOf', picture.asOf);
    return { parameters: { symbol: picture.underlying.symbol }, query };
  });
  readonly #explained: Overview = $derived.by(() => {
    const quotes = this.#quotes.answer;
    const { picture } = this;
    if (quotes?.symbol !== picture.underlying.symbol || quotes.asOf !== picture.asOf) return picture;
    return { ...picture, expiries: joinQuotes(picture.expiries, quotes) };
  });

  /**
   * @param loaded what the page was loaded with; the feed's newer pictures take its place while live
   * @param changes where changes are noted
   * @param opening expiries that the view shows where none are chosen
   */
  constructor(loaded: () => P, live: LiveState, changes?: Changes, opening?: () => ExpirySet) {
    this.address = new Address(changes, opening);
    this.live = new LivePicture(loaded, live, this.address);
    this.borrowing = new Borrowing(() => ({
      symbol: this.live.newest.underlying.symbol,
      minute: this.live.minute,
    }));
    this.stepping = new Stepping(this.address, this.live);
  }

  get context() {
    return this.address.context;
  }

  /** Names what values are of: underlying and instant, the same through all waves while live. */
  get theoryStamp(): string {
    return `${this.picture.underlying.symbol} ${this.live.isLive ? LIVE : this.picture.asOf}`;
  }

  /** One contract more, or less, of an option among those picked. */
  pick(option: PickableOption, step: 1 | -1): void {
    void this.address.set({ legs: legsText(pick(this.context.legs, option, step)) });
  }

  openWorkings(id: string): void {
    void this.address.set({ workings: id });
  }

  closeWorkings(): void {
    void this.address.set({ workings: undefined });
  }

  /**
   * Has figures explained that are not of the picture, as long as the component stands that is being set up.
   * @param kind what their identifiers begin with
   */
  explainAlso(kind: string, explain: (id: string) => Workings | undefined): void {
    $effect(() => {
      this.#others.set(kind, explain);
      return () => this.#others.delete(kind);
    });
  }

  explain(id: string): Workings | undefined {
    const other = this.#others.get(id.split('~')[0]);
    if (other) return other(id);
    return workingsOf(this.#explained, this.context, id);
  }

  get quotesTrouble(): string | undefined {
    return this.#quotes.error;
  }

  get scale(): FigureScale {
    return figureScale(this.picture);
  }

  get stamp(): string {
    return this.picture.asOf;
  }

  /** Pricer with the option of a figure, or with the focus expiry's nearest to the forward. */
  pricerHref(id?: string): string {
    return pricerHref(this.picture.underlying.symbol, page.url.searchParams, this.focus?.date, id);
  }

  /** Does what a sentence of the Reading offers. */
  act = (action: SentenceAction): void => {
    if (action === 'list-excluded') return;
    if (action === 'restore-all') void this.address.set({ restored: undefined }, { isStep: true });
    else void this.stepping.clickExpiry(action.slice('show-expiry:'.length));
  };

  /** Puts a judged quote back into the fit, or takes it out again. */
  toggleRestored(date: string, strike: number, side: Side): Promise<void> {
    const key = (r: { expiry: string; strike: number; side: Side }) => `${r.expiry}/${r.strike}/${r.side}`;
    const own = key({ expiry: date, strike, side });
    const keys = this.context.restored.map(key);
    const next = keys.includes(own) ? keys.filter((k) => k !== own) : [...keys, own];
    return this.address.set({ restored: next.length > 0 ? next.join(',') : undefined }, { isStep: true });
  }

  isRestored(date: string, strike: number, side: Side): boolean {
    return this.context.restored.some((r) => r.expiry === date && r.strike === strike && r.side === side);
  }
}

export const [viewState, setViewState] = createContext<ViewState>();

/** State of a view whose definition asks for the quotes as well. */
export function quotedViewState(): ViewState<Picture> {
  return viewState() as unknown as ViewState<Picture>;
}
