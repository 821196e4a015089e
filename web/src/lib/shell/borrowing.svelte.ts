import { symbolPart } from '@umwelt/market/symbol';
import { borrowResponse, type BorrowResponse } from '../api/borrow.ts';
import { Fetched } from '../api/fetched.svelte.ts';
import type { Overview } from '../api/picture.ts';

/** Smiles that the shown underlying borrows from others: asked for beside the picture, which is the same for all users. */
export class Borrowing {
  readonly #answer: Fetched<BorrowResponse>;
  /** How often the link has been changed here */
  #changes = $state(0);

  /** Must be made while a component is. Asked for again with every minute of the picture, and when the link was changed. */
  constructor(of: () => { symbol: string; minute: string }) {
    this.#answer = new Fetched(borrowResponse, () => {
      const { symbol, minute } = of();
      return `/api/v1/underlyings/${symbolPart(symbol)}/borrow?asOf=${encodeURIComponent(minute)}&change=${this.#changes}`;
    });
  }

  /** Undefined until it has arrived. */
  get answer(): BorrowResponse | undefined {
    return this.#answer.answer;
  }

  /** Tells that the link is another now. */
  changed(): void {
    this.#changes++;
  }

  /** A picture, each expiry with the smile it borrows. */
  with<P extends Overview>(picture: P): P {
    const smiles = this.answer?.expiries ?? {};
    if (Object.keys(smiles).length === 0) return picture;
    return { ...picture, expiries: picture.expiries.map((e) => ({ ...e, borrowed: smiles[e.date] })) };
  }
}
