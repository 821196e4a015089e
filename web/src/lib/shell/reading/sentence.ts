/** A sentence of the Reading: words, and figures that open their Workings. */
export type SentencePart = string | { figure: string; text: string } | { action: SentenceAction; text: string };
/** What a sentence may offer to do: list what is excluded; take all quotes that were put back by hand out again; show an expiry. */
export type SentenceAction = 'list-excluded' | 'restore-all' | `show-expiry:${string}`;
export type Sentence = SentencePart[];
