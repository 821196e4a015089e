import { z } from 'zod';
import { type KeepRequest, type KeptChange, keptStructure, type KeptStructure } from '../../api/kept-structure.ts';
import { addressOf, ask, troubleText } from '../../api/client/ask.ts';
import { ApiTrouble } from '../../api/client/trouble.ts';
import {
  changeKeptRoute,
  dropRoute,
  keepRoute,
  keptRoute,
  shelfImportRoute,
  structureRoute,
} from '../../api/contract/structures.ts';
import type { StructureEvaluation } from '../../api/structure.ts';

const changedDocument = z.object({ current: keptStructure });

/** Structures that are evaluated side by side. */
const SIDE_BY_SIDE = 3;

/** A kept structure as it stands at an instant, or why it cannot be seen. */
export type Repriced = { ok: true; evaluation: StructureEvaluation } | { ok: false; reason: string };

/** The structures that are kept: what is on the Shelf, and what each is worth at an instant. */
export class Shelf {
  /** Newest first; undefined until they are there */
  kept = $state.raw<KeptStructure[]>();
  trouble = $state<string>();
  isBusy = $state(false);
  /** What somebody else changed before, and what was wanted of it; nothing where it was to be deleted */
  conflict = $state.raw<{ now: KeptStructure; wanted: KeptChange | undefined }>();
  /** What was deleted last: it can be put back */
  deleted = $state.raw<KeptStructure>();
  /** By identifier, of the instant that was asked for last */
  repriced = $state.raw<ReadonlyMap<string, Repriced>>(new Map());
  #repricing: AbortController | undefined;

  load(): Promise<void> {
    return this.#do(async () => undefined);
  }

  keep(request: KeepRequest): Promise<void> {
    return this.#do(async () => {
      await ask(keepRoute, { body: request });
    });
  }

  /** Gives it another name and tags; where somebody else did so meanwhile nothing is changed, and `conflict` has both. */
  async change({ id, etag }: KeptStructure, wanted: KeptChange): Promise<void> {
    this.conflict = undefined;
    await this.#do(() =>
      this.#unlessChanged(() => ask(changeKeptRoute, { parameters: { id }, body: wanted, ifMatch: etag }), wanted),
    );
  }

  async drop({ id, etag }: Pick<KeptStructure, 'id' | 'etag'>): Promise<void> {
    // As it is kept: a row of a table carries more than can be put back.
    const structure = this.kept?.find((k) => k.id === id);
    this.conflict = undefined;
    await this.#do(() =>
      this.#unlessChanged(async () => {
        await ask(dropRoute, { parameters: { id }, ifMatch: etag });
        this.deleted = structure;
      }),
    );
  }

  async #unlessChanged(what: () => Promise<unknown>, wanted?: KeptChange): Promise<void> {
    try {
      await what();
    } catch (error) {
      const changed =
        error instanceof ApiTrouble && error.status === 412 ? changedDocument.safeParse(error.document) : undefined;
      if (!changed?.success) throw error;
      this.conflict = { now: changed.data.current, wanted };
    }
  }

  putBack(): Promise<void> {
    const { deleted } = this;
    if (!deleted) return Promise.resolve();
    return this.#do(async () => {
      const { id: _id, etag: _etag, ...request } = deleted;
      await ask(keepRoute, { body: request });
      this.deleted = undefined;
    });
  }

  /** @param text of a file that was exported */
  import(text: string): Promise<void> {
    return this.#do(async () => {
      await ask(shelfImportRoute, { body: { text } });
    });
  }

  /** Evaluates all of them at an instant, a few at a time; what an older question still has under way is given up. */
  async reprice(asOf: string): Promise<void> {
    this.#repricing?.abort();
    const abort = (this.#repricing = new AbortController());
    const left = [...(this.kept ?? [])];
    const found = new Map<string, Repriced>();
    const next = async (): Promise<void> => {
      for (let one = left.shift(); one && !abort.signal.aborted; one = left.shift()) {
        const answer = await this.#evaluate(one, asOf, abort.signal);
        if (abort.signal.aborted) return;
        found.set(one.id, answer);
        this.repriced = new Map(found);
      }
    };
    await Promise.all(Array.from({ length: SIDE_BY_SIDE }, next));
  }

  leave(): void {
    this.#repricing?.abort();
  }

  /** Where they leave as a file. */
  fileAddress(format: 'csv' | 'json'): string {
    return addressOf(keptRoute, format === 'csv' ? { query: { format } } : {});
  }

  async #evaluate(one: KeptStructure, asOf: string, signal: AbortSignal): Promise<Repriced> {
    const paidFor = (leg: KeptStructure['legs'][number]) =>
      one.paid.find((p) => p.expiry === leg.expiry && p.strike === leg.strike && p.side === leg.side)?.price;
    const legs = one.legs.map((leg) => ({
      ...{ kind: 'option' as const, expiry: leg.expiry, strike: leg.strike, side: leg.side, quantity: leg.ratio },
      price: paidFor(leg),
    }));
    const held = one.held === 0 ? [] : [{ kind: 'underlying' as const, quantity: one.held }];
    try {
      // As it was kept, it is told in the units of then; what is not listed any more goes on by smile or settlement.
      const body = {
        symbol: one.symbol,
        asOf,
        legs: [...legs, ...held],
        unlisted: 'value' as const,
        unitsOf: one.asOf,
      };
      return { ok: true, evaluation: await ask(structureRoute, { body, signal }) };
    } catch (error) {
      return { ok: false, reason: troubleText(error) };
    }
  }

  async #do(what: () => Promise<void>): Promise<void> {
    this.isBusy = true;
    try {
      await what();
      this.kept = (await ask(keptRoute)).structures;
      this.trouble = undefined;
    } catch (error) {
      this.trouble = troubleText(error);
    } finally {
      this.isBusy = false;
    }
  }
}
