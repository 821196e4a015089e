/** A sentence of the Reading: words, and figures that open their Workings. */
export type SentencePart = string | { figure: string; text: string } | { action: 'restore-all'; text: string };
export type Sentence = SentencePart[];
