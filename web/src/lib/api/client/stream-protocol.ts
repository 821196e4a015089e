/** From a tab to the worker that holds the browser's one stream. */
export type ToStream =
  | { type: 'topics'; topics: string[] }
  /** Sign of life; a tab that gives none for a while has gone */
  | { type: 'here' }
  | { type: 'bye' };

/** From the worker to each tab; data are JSON as the server sent them. */
export type FromStream =
  | { type: 'status'; data: string }
  | { type: 'picture'; topic: string; data: string }
  /** Whether the stream is open, and since when it is not (milliseconds since 1970) */
  | { type: 'connection'; isOpen: boolean; since: number };

/** How often a tab gives a sign of life; hidden tabs may do so only once a minute. */
export const HERE_MILLISECONDS = 20_000;
export const GONE_MILLISECONDS = 150_000;
