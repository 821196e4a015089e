import { z } from 'zod';
import type { ViewDefinition } from './view-definition.ts';
import { ownOfAnother, ownParameters } from './view-parameters.ts';

const STORAGE = 'left-views';
const place = z.object({ symbol: z.string().optional(), query: z.string() });
const kept = z.object({ views: z.record(z.string(), place), last: place.optional() });

/** The underlying that is shown, and the query of its page. */
export interface Here {
  symbol: string;
  parameters: URLSearchParams;
}

/** Anything that keeps texts, such as the tab's own storage. */
type Keeper = Pick<Storage, 'getItem' | 'setItem'>;

/** How each view was left in this tab: its own parameters, and of which underlying. */
export class LeftViews {
  readonly #kept: z.infer<typeof kept>;
  readonly #keeper: Keeper | undefined;

  constructor(keeper?: Keeper) {
    this.#keeper = keeper;
    this.#kept = readKept(keeper);
  }

  leave(view: ViewDefinition, symbol: string | undefined, parameters: URLSearchParams): void {
    this.#kept.views[view.id] = { symbol, query: ownParameters(view, parameters).toString() };
    if (symbol !== undefined) this.#kept.last = { symbol, query: parameters.toString() };
    try {
      this.#keeper?.setItem(STORAGE, JSON.stringify(this.#kept));
    } catch {
      // Without room it is kept until the page is loaded anew.
    }
  }

  /** A view's own parameters as they were left; of another underlying only those that mean the same of any. */
  of(view: ViewDefinition, symbol: string | undefined): URLSearchParams {
    const left = this.#kept.views[view.id] as z.infer<typeof place> | undefined;
    const own = new URLSearchParams(left?.query);
    if (!left || left.symbol === symbol) return own;
    return symbol === undefined ? own : ownOfAnother(view, own, symbol);
  }

  /** The underlying that was shown last, with the query of its page. */
  get last(): Here | undefined {
    const { last } = this.#kept;
    return last?.symbol === undefined
      ? undefined
      : { symbol: last.symbol, parameters: new URLSearchParams(last.query) };
  }
}

function readKept(keeper: Keeper | undefined): z.infer<typeof kept> {
  try {
    return kept.parse(JSON.parse(keeper?.getItem(STORAGE) ?? ''));
  } catch {
    // Nothing was left, or it cannot be read.
    return { views: {} };
  }
}
