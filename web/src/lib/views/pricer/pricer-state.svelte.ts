import { wrap } from 'comlink';
import { createContext } from 'svelte';
import { goto } from '$app/navigation';
import type { AfterNavigate } from '@sveltejs/kit';
import { page } from '$app/state';
import type { MarketGap, MarketGapInput } from '@umwelt/core/whatif';
import {
  type Answer,
  basisFactor,
  type CurveRequest,
  type DecayRequest,
  type FiguresRequest,
  laterInputs,
  marketInputs,
  PLAIN_INPUTS,
  type PricerCurve,
  type PricerDecay,
  type PricerFigures,
  type PricerSolutions,
  type SolveRequest,
} from '../../theory/index.ts';
import { curveRange } from './curve-range.ts';
import { gapInput } from './gap-input.ts';
import {
  type ChangeStates,
  explainChangeFigure,
  explainGreekChange,
  type GreekChangeStates,
  explainPricerFigure,
  explainSolveFigure,
  type Workings,
  type FigureScale,
  figureScale,
  premiumDecimals,
  underlyingDecimals,
} from '../../measures/index.ts';
import {
  fieldText,
  inputsFromParameters,
  packInputs,
  PRICER_FIELD_NAMES,
  type PricerField,
  type PricerInputs,
  pricerSettings,
  type PricerSettings,
  unpackInputs,
} from '../../api/pricer-inputs.ts';
import { currencyName } from '../../ui/format.ts';
import { LatestAnswer } from '../../ui/latest-answer.svelte.ts';
import type { PricerWorker } from '../../theory/thread/index.ts';
import type { Picture } from '../../api/picture.ts';
import { Changes } from '../../shell/changes.svelte.ts';
import type { ViewState } from '../../shell/view-state.svelte.ts';
import type { WorkingsHost } from '../../shell/workings-host.ts';

/** The address is written when nothing has changed for this long, so that a dragged slider does not flood it. */
const WRITE_AFTER_MS = 250;
/** Changes of one field closer together than this are undone as one. */
const ONE_STEP_MS = 800;

type Own = Partial<PricerInputs>;
interface Typed {
  own: Own;
  pinned: PricerInputs | undefined;
}

/**
 * What the Pricer prices and how it is looked at. Inputs are those of the market, where there is one, with the user's
 * own over them; all that is the user's own stands in the address.
 */
export class PricerState implements WorkingsHost {
  /** Inputs that the user has typed or dragged */
  own = $state.raw<Own>({});
  pinned = $state.raw<PricerInputs>();
  settings = $state.raw<PricerSettings>(pricerSettings.parse({}));
  /** Why the worker thread cannot answer, when it cannot */
  trouble = $state<string>();
  readonly view: ViewState<Picture> | undefined;
  readonly #changes: Changes;
  /** The change that is under way while one field is dragged or typed. */
  #dragged: { fields: string; at: number; step: { before: Typed; after: Typed } } | undefined;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #worker: Worker | undefined;
  #remote: ReturnType<typeof wrap<PricerWorker>> | undefined;

  readonly market: PricerInputs = $derived.by(() => {
    const { view } = this;
    if (!view?.focus) return PLAIN_INPUTS;
    const { side, strike } = this.own;
    return marketInputs(view.picture, view.focus, { side, strike, inForce: view.inForce });
  });
  readonly inputs: PricerInputs = $derived({ ...this.market, ...this.own });
  readonly factor: number = $derived(basisFactor(this.settings.basis, this.inputs));

  readonly figures = this.#latest<FiguresRequest, PricerFigures>('pricerFigures');
  readonly solutions = this.#latest<SolveRequest, PricerSolutions>('pricerSolutions');
  readonly curve = this.#latest<CurveRequest, PricerCurve>('pricerCurve');
  readonly decay = this.#latest<DecayRequest, PricerDecay>('pricerDecay');
  readonly gap = this.#latest<MarketGapInput, MarketGap>('pricerGap');

  /** Figures that can be shown, even if older than the inputs */
  readonly shown: PricerFigures | undefined = $derived.by(() => {
    const value = this.figures.answer?.value;
    return value?.ok ? value.answer : undefined;
  });

  readonly figuresRequest: FiguresRequest = $derived({ inputs: this.inputs, pinned: this.pinned });
  readonly targets = $derived.by(() => {
    const { targetPrice, targetDelta, targetValue, decayDays } = this.settings;
    const price = this.shown?.[this.inputs.side].greeks.price;
    const sign = this.inputs.side === 'call' ? 1 : -1;
    return {
      targetPrice: targetPrice ?? (price === undefined ? undefined : rounded(price)),
      targetDelta: sign * Math.abs(targetDelta ?? 0.25),
      targetValue: targetValue ?? (price === undefined ? undefined : rounded(0.5 * price)),
      decayDays,
    };
  });
  readonly solveRequest: SolveRequest | undefined = $derived.by(() => {
    const { targetPrice, targetValue, ...rest } = this.targets;
    if (targetPrice === undefined || targetValue === undefined) return undefined;
    return { inputs: this.inputs, targetPrice, targetValue, ...rest };
  });
  readonly curveRequest: CurveRequest = $derived.by(() => {
    const { axis, measure } = this.settings;
    return { inputs: this.inputs, pinned: this.pinned, axis, measure, x: curveRange(axis, this.inputs, this.pinned) };
  });
  /** The later expiry beside the present one: chosen, the market's next, or twice the time. */
  readonly far: PricerInputs & { date?: string } = $derived.by(() => {
    const { view, inputs, market, own, settings } = this;
    const { farDays, farVolatility } = settings;
    const next = view?.focus && laterInputs(view.picture, view.focus, { market, own, inForce: view.inForce });
    const volatility = farVolatility ?? next?.volatility ?? inputs.volatility;
    if (next && farDays === undefined) return { ...next, volatility };
    return { ...inputs, days: farDays ?? 2 * inputs.days, volatility };
  });
  readonly decayRequest: DecayRequest = $derived({ near: this.inputs, far: this.far });
  readonly gapRequest: MarketGapInput | undefined = $derived.by(() => {
    const { view } = this;
    return view?.focus && gapInput(view.picture, view.focus, this.inputs, this.settings.knownYield);
  });

  /** @param changes where changes are noted so that they can be taken back */
  constructor(view: ViewState<Picture> | undefined, parameters: URLSearchParams, changes = new Changes()) {
    this.view = view;
    this.#changes = changes;
    this.#read(parameters);
  }

  #latest<Request, Result>(name: keyof PricerWorker): LatestAnswer<Request, Answer<Result>> {
    return new LatestAnswer(
      async (request: Request) => {
        if (!this.#remote) throw new Error('the worker thread has not started');
        const compute = this.#remote[name] as unknown as (request: Request) => Promise<Answer<Result>>;
        return await compute(request);
      },
      (error) => (this.trouble = error instanceof Error ? error.message : String(error)),
    );
  }

  /** Starts the worker thread; the returned function ends it. */
  start(): () => void {
    this.#worker = new Worker(new URL('../../theory/thread/pricer.worker.ts', import.meta.url), { type: 'module' });
    this.#worker.onerror = () => (this.trouble = 'The computing thread could not be started. Reload the page.');
    this.#remote = wrap<PricerWorker>(this.#worker);
    return () => {
      clearTimeout(this.#timer);
      this.#changes.forget(this);
      this.#worker?.terminate();
      this.#remote = undefined;
    };
  }

  #read(parameters: URLSearchParams): void {
    this.own = inputsFromParameters(parameters);
    this.pinned = unpackInputs(parameters.get('pinned'));
    this.settings = pricerSettings.parse(Object.fromEntries(parameters));
  }

  /** Follows an address that was not written here: Back, or a link. Its own writing arrives as goto. */
  follow({ type, to }: AfterNavigate): void {
    if ((type !== 'popstate' && type !== 'link') || !to) return;
    clearTimeout(this.#timer);
    this.#read(to.url.searchParams);
  }

  set(change: Own): void {
    const fields = Object.keys(change).sort().join();
    this.#change(fields.replaceAll(',', ', '), { ...this.#typed, own: { ...this.own, ...change } }, fields);
  }

  /** Gives inputs back to the market; all of them without names. */
  reset(...fields: PricerField[]): void {
    const kept = Object.entries(this.own).filter(
      ([name]) => fields.length > 0 && !fields.includes(name as PricerField),
    );
    this.#change('own inputs', { ...this.#typed, own: Object.fromEntries(kept) });
  }

  pin(): void {
    this.#change('pin', { ...this.#typed, pinned: this.inputs });
  }

  unpin(): void {
    this.#change('pin', { ...this.#typed, pinned: undefined });
  }

  get #typed(): Typed {
    return { own: this.own, pinned: this.pinned };
  }

  /** @param fields that are being dragged or typed: what follows soon is the same change */
  #change(what: string, after: Typed, fields?: string): void {
    const now = Date.now();
    const dragged = this.#dragged;
    if (dragged && dragged.fields === fields && now - dragged.at <= ONE_STEP_MS) {
      dragged.at = now;
      dragged.step.after = after;
    } else {
      const step = { before: this.#typed, after };
      this.#dragged = fields === undefined ? undefined : { fields, at: now, step };
      this.#changes.note({
        what,
        at: page.url.pathname,
        owner: this,
        undo: () => this.#put(step.before, true),
        redo: () => this.#put(step.after, true),
      });
    }
    this.#put(after);
  }

  #put({ own, pinned }: Typed, isEnd = false): void {
    this.own = own;
    this.pinned = pinned;
    if (isEnd) this.#dragged = undefined;
    this.#write();
  }

  get canUndo(): boolean {
    return this.#changes.last(page.url.pathname) !== undefined;
  }

  undo(): void {
    this.#changes.undo(page.url.pathname);
  }

  choose(change: Partial<PricerSettings>): void {
    this.settings = { ...this.settings, ...change };
    this.#write();
  }

  /** Address of the present state. */
  href(): string {
    const parameters = new URLSearchParams(page.url.searchParams);
    for (const field of PRICER_FIELD_NAMES) {
      if (this.own[field] === undefined) parameters.delete(field);
      else parameters.set(field, fieldText(field, this.inputs));
    }
    if (this.pinned) parameters.set('pinned', packInputs(this.pinned));
    else parameters.delete('pinned');
    const defaults: Record<string, unknown> = pricerSettings.parse({});
    for (const name of Object.keys(pricerSettings.shape) as (keyof PricerSettings)[]) {
      const value = this.settings[name];
      if (value === undefined || value === defaults[name]) parameters.delete(name);
      else parameters.set(name, String(value));
    }
    const query = parameters.toString().replaceAll('%3A', ':').replaceAll('%3B', ';').replaceAll('%7E', '~');
    return query === '' ? page.url.pathname : `${page.url.pathname}?${query}`;
  }

  #write(): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => {
      void goto(this.href(), { replaceState: true, noScroll: true, keepFocus: true });
    }, WRITE_AFTER_MS);
  }

  get workingsId(): string | undefined {
    return this.settings.workings;
  }
  openWorkings(id: string): void {
    this.choose({ workings: id });
  }
  closeWorkings(): void {
    this.choose({ workings: undefined });
  }
  /** Of the search that was answered, not of what is typed meanwhile. */
  #explainSearch(id: string): Workings | undefined {
    const { answer } = this.solutions;
    if (!answer?.request || !answer.value.ok) return undefined;
    const { own, view } = this;
    const { inputs, ...targets } = answer.request;
    return explainSolveFigure({ inputs, own, view, targets, found: answer.value.answer }, id);
  }
  /** The pin and now, with what changed between; undefined when nothing is pinned or priced. */
  get changeStates(): ChangeStates | undefined {
    const { pinned, inputs, shown } = this;
    return pinned && shown?.change && { pinned, now: inputs, change: shown.change, basis: this.settings.basis };
  }
  /** The same of Greeks. */
  get greekChangeStates(): GreekChangeStates | undefined {
    const { pinned, inputs, shown } = this;
    const { basis } = this.settings;
    return pinned && shown?.greekChange && { pinned, now: inputs, greekChange: shown.greekChange, basis };
  }
  explain(id: string): Workings | undefined {
    return (
      explainPricerFigure(this, id) ??
      explainChangeFigure(this.changeStates, id) ??
      explainGreekChange(this.greekChangeStates, id) ??
      this.#explainSearch(id) ??
      this.view?.explain(id)
    );
  }
  get stamp(): string {
    return this.view?.stamp ?? 'typed inputs';
  }
  get scale(): FigureScale {
    // Beside no market values are held against textbooks, which print four decimals.
    return this.view
      ? figureScale(this.view.picture, this.factor)
      : { underlyingTick: null, optionTick: ALONE_TICK, price: this.inputs.underlying, factor: this.factor };
  }
  /** Of values; undefined where no market says it */
  get currency(): string | undefined {
    const code = this.view?.picture.underlying.currency;
    return code === undefined ? undefined : currencyName(code);
  }
  /** Decimals of prices of the underlying */
  get decimals(): number {
    return underlyingDecimals(this.scale);
  }
  /** Decimals of values per unit of underlying */
  get unitDecimals(): number {
    return premiumDecimals({ ...this.scale, factor: 1 });
  }
  /** Decimals of values of the basis that is chosen */
  get valueDecimals(): number {
    return premiumDecimals(this.scale);
  }
}

/** Of option values without a market. */
const ALONE_TICK = 0.001;

/** To four digits: a target that one would type. */
function rounded(value: number): number {
  return Number(value.toPrecision(4));
}

export const [pricerState, setPricerState] = createContext<PricerState>();
