import {
  europeanEquivalents,
  isAmerican,
  type ListedValue,
  type TheoryPart,
  type VolatilityInForce,
} from '../index.ts';
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

/**
 * Theory of listed options as a view shows it: European ones at once; American ones from a thread, and until they come
 * their European equivalents, marked as such.
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
  /** Of each part the values of its options, in their order */
  readonly values: Values[] = $derived.by(() => {
    if (!this.#asked) return [];
    const { parts, inForce, isSecondOrder } = this.#asked.question;
    return (
      this.#held ?? parts.map(({ expiry, options }) => europeanEquivalents(expiry, options, inForce, { isSecondOrder }))
    );
  });
  /** Whether some values still leave the right to exercise early out */
  readonly isProvisional: boolean = $derived(
    this.#held === undefined && (this.#asked?.question.parts.some((p) => isAmerican(p.expiry)) ?? false),
  );

  /** Must be made while a component is. @param question undefined while nothing is wanted */
  constructor(question: () => TheoryQuestion | undefined) {
    this.#ask = question;
    $effect(() => {
      const asked = this.#asked;
      if (asked?.question.parts.some((p) => isAmerican(p.expiry))) this.#latest.ask(asked);
    });
  }
}

function keyOf({ parts, inForce, stamp, isSecondOrder = false }: TheoryQuestion): string {
  const of = ({ expiry, options }: TheoryPart) => [expiry.date, options.map((o) => `${o.side}${o.strike}`)];
  return JSON.stringify([stamp, inForce, isSecondOrder, parts.map(of)]);
}
