import type { BorrowResponse } from '../api/borrow.ts';
import { borrowRoute } from '../api/contract/views.ts';
import { Fetched } from '../api/client/fetched.svelte.ts';
import type { Overview } from '../api/picture.ts';

/** Smiles that the shown underlying borrows from others: asked for beside the picture, which is the same for all users. */
export class Borrowing {
  readonly #answer;

  /** Must be made while a component is. Asked for again with every minute of the picture, and when the link was changed. */
  constructor(of: () => { symbol: string; minute: string }) {
    this.#answer = new Fetched(borrowRoute, () => {
      const { symbol, minute } = of();
      return { parameters: { symbol }, query: { asOf: minute } };
    });
  }

  /** Undefined until it has arrived. */
  get answer(): BorrowResponse | undefined {
    return this.#answer.answer;
  }

  /** Tells that the link is another now. */
  changed(): void {
    this.#answer.retry();
  }

  /** A picture, each expiry with the smile it borrows. */
  with<P extends Overview>(picture: P): P {
    const smiles = this.answer?.expiries ?? {};
    if (Object.keys(smiles).length === 0) return picture;
    return { ...picture, expiries: picture.expiries.map((e) => ({ ...e, borrowed: smiles[e.date] })) };
  }
}
