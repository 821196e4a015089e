import { isAmerican, type ListedValue, listedValues, type TheoryPart, type VolatilityInForce } from '../index.ts';
import { LatestAnswer } from '../../ui/latest-answer.svelte.ts';
import { askTheory } from './theory-thread.ts';

/** What a view wants valued. */
export interface TheoryQuestion {
  parts: readonly TheoryPart[];
  inForce: VolatilityInForce;
  /** Underlying and instant; the same through all waves while live, so that a value stays until its successor comes */
  stamp: string;
  /** Whether vanna, volga and charm are wanted, which take longer */
  isSecondOrder?: boolean;
}

type Values = (ListedValue | undefined)[];
interface Asked {
  key: string;
  question: TheoryQuestion;
}

/** So many American options are valued at once: it takes no longer than a thread takes to be asked. */
const MOST_AT_ONCE = 24;

/**
 * Theory of listed options as a view shows it: European ones and a few American ones at once, many American ones from a thread. Until
 * those come there is no value: another in its place would be taken for it.
 */
export class TheoryValues {
  readonly #ask: () => TheoryQuestion | undefined;
  readonly #asked: Asked | undefined = $derived.by(() => {
    const question = this.#ask();
    return question && { key: keyOf(question), question };
  });
  readonly #latest = new LatestAnswer<Asked, Values[]>(
    async ({ question: { parts, inForce, isSecondOrder } }) =>
      askTheory((thread) =>
        Promise.all(
          parts.map(({ expiry, options }) => thread.listedValues(expiry, options, inForce, { isSecondOrder })),
        ),
      ).finally(() => (this.trouble = undefined)),
    (error) => (this.trouble = error instanceof Error ? error.message : String(error)),
  );
  /** Why American values cannot be computed, when they cannot */
  trouble = $state<string>();

  readonly #held: Values[] | undefined = $derived.by(() => {
    const { answer } = this.#latest;
    return answer && answer.request.key === this.#asked?.key ? answer.value : undefined;
  });
  /** A server gives its time to no page alone. */
  #isMounted = $state(false);
  readonly #isAtOnce: boolean = $derived.by(() => {
    const { parts = [], isSecondOrder = false } = this.#asked?.question ?? {};
    const american = parts.filter((p) => isAmerican(p.expiry));
    if (american.length === 0) return true;
    return this.#isMounted && !isSecondOrder && american.reduce((n, p) => n + p.options.length, 0) <= MOST_AT_ONCE;
  });
  /** Of each part the values of its options, in their order; undefined until they are there */
  readonly values: Values[] = $derived.by(() => {
    if (!this.#asked) return [];
    // What a thread was asked before they were few, or borrowed another smile, is older.
    if (this.#held && !this.#isAtOnce) return this.#held;
    const { parts, inForce, isSecondOrder } = this.#asked.question;
    return parts.map(({ expiry, options }) =>
      this.#isAtOnce || !isAmerican(expiry)
        ? listedValues(expiry, options, inForce, { isSecondOrder })
        : options.map(() => undefined),
    );
  });
  /** Whether some values are still to come; none does where they cannot be computed */
  readonly isPending: boolean = $derived(
    this.#asked !== undefined && this.#held === undefined && !this.#isAtOnce && this.trouble === undefined,
  );

  /** Must be made while a component is. @param question undefined while nothing is wanted */
  constructor(question: () => TheoryQuestion | undefined) {
    this.#ask = question;
    $effect.pre(() => {
      this.#isMounted = true;
    });
    $effect(() => {
      const asked = this.#asked;
      if (asked && !this.#isAtOnce) this.#latest.ask(asked);
    });
  }
}

function keyOf({ parts, inForce, stamp, isSecondOrder = false }: TheoryQuestion): string {
  const of = ({ expiry, options }: TheoryPart) => [expiry.date, options.map((o) => `${o.side}${o.strike}`)];
  return JSON.stringify([stamp, inForce, isSecondOrder, parts.map(of)]);
}
